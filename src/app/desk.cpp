#include "app/desk.h"

namespace yelvin {

Desk::Desk(const DeskPlaces& where)
    : places(where), last(places.settings), experience(last),
      scanners(messages, last, places.real_scanners ? Scanners::Look::ForRealOnes : Scanners::Look::OnlySimulated),
      tickets(messages, last, places.settings), glass(messages, last, scanners, tickets),
      next_scan(scanners, tickets, glass, experience), tray(messages, pools, places.data), choice(tray),
      pictures(tray, pools), looking(tray, pictures, experience, tickets, readers, pools),
      edits(messages, tickets, tray, choice, pictures, looking, pools),
      files(messages, tickets, tray, choice, looking, pools), names(tickets, tray),
      saving(messages, tickets, experience, tray, names, readers, pools),
      strip({messages, scanners, tickets, glass, next_scan, tray, choice}, readers, pools),
      run({messages, experience, scanners, tickets, glass, next_scan, tray, choice, pictures, looking}),
      stitching(messages, tray, choice, edits, run, pools) {}

Desk::~Desk() { pools.stop(); }

WindowModels Desk::for_window() {
    return {messages, experience, scanners, tickets, glass,  next_scan, tray, choice,    pictures,
            looking,  edits,      files,    names,   saving, strip,     run,  stitching, places.originals};
}

}
