// Owns the models of one window, in the order in which they use each other, and does nothing else. Widgets get the
// models that they show, never the Desk.
#pragma once

#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/cabinet/cabinet_search.h"
#include "app/models/errands/at_once.h"
#include "app/models/errands/closing.h"
#include "app/models/errands/errands.h"
#include "app/models/errands/renaming.h"
#include "app/models/groups.h"
#include "app/models/naming/document_names.h"
#include "app/models/naming/folders.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/password_keeper.h"
#include "app/models/saving/save_places.h"
#include "app/models/saving/saving.h"
#include "app/models/scanning/glass.h"
#include "app/models/scanning/going_back.h"
#include "app/models/scanning/next_page.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/room_for_run.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/scanning/stitching.h"
#include "app/models/scanning/strip_model.h"
#include "app/models/sending/sending.h"
#include "app/models/sending/servers.h"
#include "app/models/text/page_texts.h"
#include "app/models/text/reading.h"
#include "app/models/text/reading_aloud.h"
#include "app/models/text/text_choice.h"
#include "app/models/text/text_search.h"
#include "app/models/threads/pools.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/incoming.h"
#include "app/models/tray/kept_originals.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/experience.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "app/models/window/room.h"

namespace yelvin {

struct DeskPlaces {
    QString data;                // folder of the out tray
    QString settings;            // folder of tickets and last choices
    QString originals;           // folder of the demo's SVG originals
    bool real_scanners = false;  // whether to look for scanners with libsane
    bool crashed_before = false; // whether the program crashed last time
    // The voice that reads aloud; null: the system's.
    std::function<std::unique_ptr<Voice>()> voice = {};
    // Programs, e-mail program and printers; null: this desktop's.
    std::function<std::unique_ptr<Outside>(Pools& pools)> outside = {};
    // The keyring; null: this desktop's.
    std::function<std::unique_ptr<Keyring>()> keyring = {};
};

class Desk {
  public:
    explicit Desk(const DeskPlaces& places);
    ~Desk(); // ends work under way and writes what must be kept

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
    // Makes the next Desk use a new out tray folder beside one that cannot be opened.
    void choose_fresh_tray();
};

}
