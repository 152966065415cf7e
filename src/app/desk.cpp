#include "app/desk.h"

#include "app/errands/system_outside.h"
#include "app/models/saving/copies_folder.h"
#include "app/models/tray/tray_folder.h"
#include "app/secrets/system_keyring.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QStandardPaths>

namespace yelvin {

namespace {

// E-mails that no program accepts are kept beside the settings; pages that cannot be printed go to the documents
// folder.
SystemOutside::Folders own_folders(const DeskPlaces& where) {
    return {where.settings + "/Drafts", QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation),
            where.settings + "/Copies"};
}

}

namespace {

// The cabinet's folder is a neighbour of the out tray's folder.
QString cabinet_folder(const DeskPlaces& where) { return QFileInfo(where.data).path() + "/cabinet"; }

QString sending_folder(const DeskPlaces& where) { return QFileInfo(where.data).path() + "/sending"; }

}

Desk::Desk(const DeskPlaces& where)
    : places(where), last(places.settings, pools.keeping()), room(last), experience(last),
      scanners(messages, last, places.real_scanners ? Scanners::Look::ForRealOnes : Scanners::Look::OnlySimulated),
      tickets(messages, last, places.settings), growing(last), glass(messages, last, scanners, tickets),
      next_scan(scanners, tickets, glass, experience), tray(messages, pools, tray_folder(places.data, last)),
      document_tickets(messages, last, tickets, tray), choice(tray), kept(messages, last, tray, choice),
      pictures(tray, pools),
      looking(messages, tray, pictures, experience, tickets, readers, pools, places.crashed_before),
      edits(messages, tickets, tray, choice, pictures, looking, pools),
      files({messages, tickets, document_tickets, tray, choice, looking}, pools), places_used(last, folders),
      papers(messages, tray, document_tickets, pools, places.settings),
      cabinet({messages, papers, readers, pools}, cabinet_folder(places)), in_cabinet(cabinet, pools),
      names(tickets, document_tickets, growing, tray, papers, folders), next_page(last, tray, names),
      reading(tray, choice, looking, document_tickets, pools),
      texts(messages, tray, document_tickets, reading, looking, pools), words(tray, choice, texts),
      search(tray, choice, texts, words),
      aloud(tray, choice, words, where.voice ? where.voice() : std::make_unique<SystemVoice>()),
      passwords(messages, where.keyring ? where.keyring() : std::make_unique<SystemKeyring>()), servers(last),
      sending({messages, passwords, servers, pools}, sending_folder(places)),
      saving({messages, document_tickets, experience, last, tray, names, reading, passwords, folders, places_used,
              papers, cabinet, looking, growing},
             readers, pools, places.crashed_before),
      errands({messages, last, tray, names, saving, pools, papers, sending, document_tickets, folders},
              where.outside ? where.outside(pools)
                            : std::make_unique<SystemOutside>(own_folders(where), pools.errands())),
      renaming({messages, tray, edits, folders, papers, cabinet, names, saving, errands, growing, pools}),
      closing(saving, renaming), strip({messages, scanners, tickets, glass, next_scan, tray, choice}, readers, pools),
      run({messages, experience, scanners, tickets, glass, next_scan, tray, choice, pictures, looking,
           document_tickets}),
      stitching(messages, tray, choice, edits, run, pools),
      at_once({messages, tray, looking, reading, saving, errands, run, papers, document_tickets}),
      room_for_run({messages, scanners, tickets, folders, run}), going_back(messages, tickets, run) {
    pools.errands()([given_away = errands.outside().copies_folder().toStdString()] {
        forget_old_copies(given_away);
        forget_old_copies(folder_for_looks());
    });
    pools.on_trouble = [this, here = on_thread_of(&messages)](const Error& error) {
        here([this, error] { messages.complain(error); });
    };
}

Desk::~Desk() {
    at_once.hand_over();
    tray.keep_what_is_left(); // Write now as well, in case a destructor below hangs and the program is ended.
    last.keep_now();
    // A file that was completed at the last moment is recorded as saved or renamed and entered into the cabinet.
    pools.end_saving();
    QCoreApplication::sendPostedEvents(&saving, QEvent::MetaCall);
    QCoreApplication::sendPostedEvents(&renaming, QEvent::MetaCall);
    tray.keep_what_is_left();
    sending.stop();
    pools.stop();
}

void Desk::choose_fresh_tray() { yelvin::choose_fresh_tray(places.data, last); }

WindowModels Desk::for_window() {
    return {.room = room,
            .messages = messages,
            .scan = {.scanners = scanners,
                     .tickets = tickets,
                     .glass = glass,
                     .next_scan = next_scan,
                     .next_page = next_page,
                     .experience = experience,
                     .strip = strip,
                     .run = run,
                     .incoming = files,
                     .originals = places.originals},
            .pages = {.tray = tray,
                      .choice = choice,
                      .kept = kept,
                      .pictures = pictures,
                      .looking = looking,
                      .edits = edits,
                      .stitching = stitching},
            .text = {.reading = reading, .texts = texts, .words = words, .search = search, .aloud = aloud},
            .files = {.tickets = document_tickets,
                      .folders = folders,
                      .places = places_used,
                      .papers = papers,
                      .names = names,
                      .growing = growing,
                      .passwords = passwords,
                      .servers = servers,
                      .sending = sending,
                      .saving = saving,
                      .errands = errands,
                      .renaming = renaming,
                      .keeper = cabinet,
                      .search_cabinet = in_cabinet,
                      .closing = closing}};
}

}
