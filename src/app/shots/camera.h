// The camera of the documentation's pictures: waits until the window is at rest, and takes it with what is open over
// it.
#pragma once

#include "app/demo.h"
#include "app/desk.h"
#include "app/window/main_window.h"

#include <QTemporaryDir>

#include <functional>

namespace yelvin::shots {

// A desk of its own with the demo's things and the simulated scanner, and its window, shown.
struct Stage {
    QTemporaryDir base;
    Desk desk{demo::places(base.path())};
    MainWindow window{desk_as_in_the_demo()};

    Stage() { window.show(); }

  private:
    WindowModels desk_as_in_the_demo() {
        desk.scanners.use_bench();
        demo::set_up(desk, base.path());
        return desk.for_window();
    }
};

// Runs the event loop until the desk is at rest and its pictures are there.
void settle(Desk& desk);
void until(const std::function<bool()>& so); // likewise, until it is so
void close_sheet();
// One of the demo's papers, scanned into a document of its own and read.
void scan_paper(Desk& desk, const char* file, double angle, int dpi);
// The window with whatever sheet is open over it.
void shoot(MainWindow& window, const QString& file);

}
