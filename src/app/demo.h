// The demo: the office of the Wendle Navigation Trust, an invented charity that looks after an invented canal. Puts a
// lease on the simulated glass and, on request, a few scanned pages into the tray.
#pragma once

#include "app/desk.h"

namespace yelvin::demo {

QString originals_folder(); // beside the installed or built program
DeskPlaces places(const QString& base);

// Puts a slightly crooked lease on the glass and sets a folder to save into.
void set_up(Desk& desk, const QString& base);
// Adds documents of earlier years to the cabinet from a folder.
void fill_cabinet(Desk& desk, const QString& base);
// Starts a small server on this computer, as long as the desk exists, and a ticket that sends to it.
void begin_server(Desk& desk, const QString& base);
// Scans two documents and then calls `done`.
void fill_tray(Desk& desk, const std::function<void()>& done);

}
