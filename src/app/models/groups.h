// Models that several panels of one place need together.
#pragma once

#include <QString>

namespace yelvin {

class CabinetKeeper;
class CabinetSearch;
class Choice;
class DocumentNames;
class Errands;
class Experience;
class Folders;
class Glass;
class Incoming;
class KeptOriginals;
class Looking;
class Messages;
class NextScan;
class OutTray;
class PageEdits;
class Papers;
class PasswordKeeper;
class Pictures;
class PageTexts;
class Reading;
class ReadingAloud;
class Renaming;
class Room;
class SavePlaces;
class Saving;
class Sending;
class Servers;
class Scanners;
class Scanning;
class Stitching;
class StripModel;
class TextChoice;
class TextSearch;
class Tickets;

// Servers, and what is on its way to them.
struct SendingModels {
    Servers& servers;
    Sending& sending;
    PasswordKeeper& passwords;
    Messages& messages;
};

// What the ticket's sentence says and its sheets change.
struct TicketModels {
    Tickets& tickets;
    Scanners& scanners;
    Glass& glass;
    NextScan& next_scan;
    DocumentNames& names;
    Choice& choice;
    Errands& errands;
    PasswordKeeper& passwords;
    OutTray& tray;
    Papers& papers;
    Folders& folders;
    SavePlaces& places;
    Servers& servers;
    Sending& sending;
    Messages& messages;
    Reading& reading;
    SendingModels for_sending() const { return {servers, sending, passwords, messages}; }
};

// What is said about a page and what can be done to it.
struct PageModels {
    OutTray& tray;
    Choice& choice;
    PageEdits& edits;
    Pictures& pictures;
    Looking& looking;
    Reading& reading;
    TextChoice& words;
    Tickets& tickets;
    Scanning& run;
};

// What the out tray shows, beside its pages.
struct TrayModels {
    OutTray& tray;
    Choice& choice;
    PageEdits& edits;
    Pictures& pictures;
    Looking& looking;
    Reading& reading;
    DocumentNames& names;
    Experience& experience;
    Tickets& tickets;
    Saving& saving;
    Errands& errands;
    Scanners& scanners;
    Scanning& run;
    Papers& papers;
    Renaming& renaming;
    SavePlaces& places;
    KeptOriginals& kept;
    Servers& servers;
    Sending& sending;
    PasswordKeeper& passwords;
    Messages& messages;
    SendingModels for_sending() const { return {servers, sending, passwords, messages}; }
};

// The text of pages, and what is said about it.
struct TextModels {
    PageTexts& texts;
    TextChoice& words;
    TextSearch& search;
    ReadingAloud& aloud;
    OutTray& tray;
    Choice& choice;
    Pictures& pictures;
    Reading& reading;
    Tickets& tickets;
    Messages& messages;
};

// All of them, for what is put together of panels. A panel takes what it shows.
struct WindowModels {
    Room& room;
    Messages& messages;
    Experience& experience;
    Scanners& scanners;
    Tickets& tickets;
    Glass& glass;
    NextScan& next_scan;
    OutTray& tray;
    Choice& choice;
    KeptOriginals& kept;
    Pictures& pictures;
    Looking& looking;
    PageEdits& edits;
    Incoming& files;
    Folders& folders;
    SavePlaces& places;
    Papers& papers;
    DocumentNames& names;
    Reading& reading;
    PageTexts& texts;
    TextChoice& words;
    TextSearch& search;
    ReadingAloud& aloud;
    PasswordKeeper& passwords;
    Servers& servers;
    Sending& sending;
    Saving& saving;
    Errands& errands;
    Renaming& renaming;
    StripModel& strip;
    Scanning& run;
    Stitching& stitching;
    CabinetKeeper& keeper;
    CabinetSearch& search_cabinet;
    QString originals; // the demo's drawings, a folder; may be empty

    TicketModels for_ticket() const {
        return {tickets, scanners, glass,   next_scan, names,   choice,  errands,  passwords,
                tray,    papers,   folders, places,    servers, sending, messages, reading};
    }
    PageModels for_page() const { return {tray, choice, edits, pictures, looking, reading, words, tickets, run}; }
    TextModels for_text() const {
        return {texts, words, search, aloud, tray, choice, pictures, reading, tickets, messages};
    }
    TrayModels for_tray() const {
        return {tray,     choice, edits,  pictures, looking, reading, names,   experience, tickets,   saving,  errands,
                scanners, run,    papers, renaming, places,  kept,    servers, sending,    passwords, messages};
    }
};

}
