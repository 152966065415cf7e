// The scenes of the documentation's pictures.
#pragma once

#include "app/desk.h"
#include "app/window/main_window.h"

class QDir;

namespace yelvin::shots {

void take_feeder(const QDir& out);                                  // a jam
void take_choices(Desk& desk, MainWindow& window, const QDir& out); // frames, the sheets of phrases, the test strip
void take_text(Desk& desk, MainWindow& window, const QDir& out);    // the text of the current page
void take_checking(const QDir& out);                                // what is noticed, Adjust, a full tray
void take_stitching(const QDir& out);                               // the canal map, nine times as large as the glass
void take_naming(const QDir& out);                                  // chips of a name, and proposed names
void take_cabinet(const QDir& out);                                 // results, and a folder that is being added
void take_sending(const QDir& out);                                 // testing a server, and sending

}
