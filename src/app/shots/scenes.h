// What the documentation's pictures show, scene by scene.
#pragma once

#include "app/shots/camera.h"

class QDir;

namespace yelvin::shots {

void take_feeder(const QDir& out);                                  // a jam
void take_choices(Desk& desk, MainWindow& window, const QDir& out); // frames, the sheets of phrases, the test strip
void take_text(Desk& desk, MainWindow& window, const QDir& out);    // what was read of the page looked at
void take_checking(const QDir& out);                                // what is noticed, Adjust, a full tray
void take_stitching(const QDir& out);                               // the canal map, nine times as large as the glass
void take_naming(const QDir& out);  // a name's chips, and what is proposed for a document
void take_cabinet(const QDir& out); // papers that are found, a folder that is taken in
void take_sending(const QDir& out); // a server that is tested, what is on its way

}
