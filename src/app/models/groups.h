// Models that several panels of one place need together. References only: the Desk owns the models. Used on the
// window's thread.
#pragma once

#include <QString>
#include <QStringList>

namespace yelvin {

class CabinetKeeper;
class CabinetSearch;
class Choice;
class Closing;
class DocumentNames;
class DocumentTickets;
class Errands;
class Experience;
class Folders;
class Glass;
class GrowingFiles;
class Incoming;
class KeptOriginals;
class Looking;
class Messages;
class NextPage;
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
    DocumentTickets& document_tickets;
    Scanners& scanners;
    Glass& glass;
    NextScan& next_scan;
    NextPage& next_page;
    DocumentNames& names;
    GrowingFiles& growing;
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
    QStringList for_documents = {}; // whose choices are shown and changed; none: the sentence's
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
    DocumentTickets& document_tickets;
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
    DocumentTickets& document_tickets;
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
    GrowingFiles& growing;
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
    DocumentTickets& document_tickets;
    Messages& messages;
};

// What would be scanned, and how.
struct ScanModels {
    Scanners& scanners;
    Tickets& tickets;
    Glass& glass;
    NextScan& next_scan;
    NextPage& next_page;
    Experience& experience;
    StripModel& strip;
    Scanning& run;
    Incoming& incoming;
    QString originals; // the demo's drawings, a folder; may be empty
};

// The pages that are there.
struct PagesModels {
    OutTray& tray;
    Choice& choice;
    KeptOriginals& kept;
    Pictures& pictures;
    Looking& looking;
    PageEdits& edits;
    Stitching& stitching;
};

// Their words.
struct WordsModels {
    Reading& reading;
    PageTexts& texts;
    TextChoice& words;
    TextSearch& search;
    ReadingAloud& aloud;
};

// What becomes of them: files, their names and places, and what happens with them.
struct FilesModels {
    DocumentTickets& tickets;
    Folders& folders;
    SavePlaces& places;
    Papers& papers;
    DocumentNames& names;
    GrowingFiles& growing;
    PasswordKeeper& passwords;
    Servers& servers;
    Sending& sending;
    Saving& saving;
    Errands& errands;
    Renaming& renaming;
    CabinetKeeper& keeper;
    CabinetSearch& search_cabinet;
    Closing& closing;
};

// All of them, for what is put together of panels. A panel takes what it shows.
struct WindowModels {
    Room& room;
    Messages& messages;
    ScanModels scan;
    PagesModels pages;
    WordsModels text;
    FilesModels files;

    TicketModels for_ticket() const {
        return {.tickets = scan.tickets,
                .document_tickets = files.tickets,
                .scanners = scan.scanners,
                .glass = scan.glass,
                .next_scan = scan.next_scan,
                .next_page = scan.next_page,
                .names = files.names,
                .growing = files.growing,
                .choice = pages.choice,
                .errands = files.errands,
                .passwords = files.passwords,
                .tray = pages.tray,
                .papers = files.papers,
                .folders = files.folders,
                .places = files.places,
                .servers = files.servers,
                .sending = files.sending,
                .messages = messages,
                .reading = text.reading};
    }
    PageModels for_page() const {
        return {.tray = pages.tray,
                .choice = pages.choice,
                .edits = pages.edits,
                .pictures = pages.pictures,
                .looking = pages.looking,
                .reading = text.reading,
                .words = text.words,
                .document_tickets = files.tickets,
                .run = scan.run};
    }
    TextModels for_text() const {
        return {.texts = text.texts,
                .words = text.words,
                .search = text.search,
                .aloud = text.aloud,
                .tray = pages.tray,
                .choice = pages.choice,
                .pictures = pages.pictures,
                .reading = text.reading,
                .document_tickets = files.tickets,
                .messages = messages};
    }
    TrayModels for_tray() const {
        return {.tray = pages.tray,
                .choice = pages.choice,
                .edits = pages.edits,
                .pictures = pages.pictures,
                .looking = pages.looking,
                .reading = text.reading,
                .names = files.names,
                .experience = scan.experience,
                .tickets = scan.tickets,
                .document_tickets = files.tickets,
                .saving = files.saving,
                .errands = files.errands,
                .scanners = scan.scanners,
                .run = scan.run,
                .papers = files.papers,
                .renaming = files.renaming,
                .places = files.places,
                .kept = pages.kept,
                .servers = files.servers,
                .sending = files.sending,
                .passwords = files.passwords,
                .messages = messages,
                .growing = files.growing};
    }
};

}
