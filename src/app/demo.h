// The demo: the office of the Wendle Navigation Trust, an invented charity that looks after an invented canal. Puts a
// lease on the simulated glass and, where asked, a few scanned pages into the tray.
#pragma once

#include "app/desk.h"

namespace yelvin::demo {

QString originals_folder(); // beside the program, installed or built
DeskPlaces places(const QString& base);

// A lease lying a little crooked, and a folder to save into.
void set_up(Desk& desk, const QString& base);
// Papers of the years before, taken into the cabinet from a folder of theirs.
void fill_cabinet(Desk& desk, const QString& base);
// A small server on this computer for as long as the desk is there, and a ticket that sends to it.
void begin_server(Desk& desk, const QString& base);
// Scans two documents through the scanner, then calls `done`.
void fill_tray(Desk& desk, const std::function<void()>& done);

}
