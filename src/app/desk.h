// The desk: the models behind one window, in the order in which they know each other. It owns them and does nothing
// else; a widget is given those that it shows.
#pragma once

#include "app/models/at_once.h"
#include "app/models/cabinet_keeper.h"
#include "app/models/cabinet_search.h"
#include "app/models/choice.h"
#include "app/models/closing.h"
#include "app/models/document_names.h"
#include "app/models/document_tickets.h"
#include "app/models/errands.h"
#include "app/models/experience.h"
#include "app/models/folders.h"
#include "app/models/glass.h"
#include "app/models/going_back.h"
#include "app/models/groups.h"
#include "app/models/growing_files.h"
#include "app/models/incoming.h"
#include "app/models/kept_originals.h"
#include "app/models/last_choices.h"
#include "app/models/looking.h"
#include "app/models/messages.h"
#include "app/models/next_page.h"
#include "app/models/next_scan.h"
#include "app/models/out_tray.h"
#include "app/models/page_edits.h"
#include "app/models/page_texts.h"
#include "app/models/papers.h"
#include "app/models/password_keeper.h"
#include "app/models/pictures.h"
#include "app/models/pools.h"
#include "app/models/reading.h"
#include "app/models/reading_aloud.h"
#include "app/models/renaming.h"
#include "app/models/room.h"
#include "app/models/room_for_run.h"
#include "app/models/save_places.h"
#include "app/models/saving.h"
#include "app/models/scanners.h"
#include "app/models/scanning.h"
#include "app/models/sending.h"
#include "app/models/servers.h"
#include "app/models/stitching.h"
#include "app/models/strip_model.h"
#include "app/models/text_choice.h"
#include "app/models/text_search.h"
#include "app/models/tickets.h"

namespace yelvin {

struct DeskPlaces {
    QString data;                // the out tray's folder
    QString settings;            // the folder of the last choices
    QString originals;           // the demo's SVG originals
    bool real_scanners = false;  // look for those that libsane knows
    bool crashed_before = false; // the program broke down the last time
    // Whoever reads aloud; none given: the system's voice.
    std::function<std::unique_ptr<Voice>()> voice = {};
    // What finished files are given to; none given: this desktop's programs, mail program and printers.
    std::function<std::unique_ptr<Outside>(Pools& pools)> outside = {};
    // Where passwords are kept; none given: this desktop's keyring.
    std::function<std::unique_ptr<Keyring>()> keyring = {};
};

class Desk {
  public:
    explicit Desk(const DeskPlaces& places);
    ~Desk(); // what is under way ends; what is to be kept is kept

    const DeskPlaces places;
    Pools pools;
    ReaderPool readers;
    LastChoices last;
    Room room;
    Messages messages;
    Experience experience;
    Scanners scanners;
    Tickets tickets;
    GrowingFiles growing;
    Glass glass;
    NextScan next_scan;
    OutTray tray;
    DocumentTickets document_tickets;
    Choice choice;
    KeptOriginals kept;
    Pictures pictures;
    Looking looking;
    PageEdits edits;
    Incoming files;
    Folders folders;
    SavePlaces places_used;
    Papers papers;
    CabinetKeeper cabinet;
    CabinetSearch in_cabinet;
    DocumentNames names;
    NextPage next_page;
    Reading reading;
    PageTexts texts;
    TextChoice words;
    TextSearch search;
    ReadingAloud aloud;
    PasswordKeeper passwords;
    Servers servers;
    Sending sending;
    Saving saving;
    Errands errands;
    Renaming renaming;
    Closing closing;
    StripModel strip;
    Scanning run;
    Stitching stitching;
    AtOnce at_once;
    RoomForRun room_for_run;
    GoingBack going_back;

    WindowModels for_window();
    // The next desk keeps its pages in a new folder beside one that cannot be opened.
    void choose_fresh_tray();
};

}
