// Taking the documentation's pictures: waits until the window is idle, and grabs it with open sheets.
#pragma once

#include "app/demo.h"
#include "app/desk.h"
#include "app/window/main_window.h"

#include <QTemporaryDir>

#include <functional>

namespace yelvin::shots {

// A Desk with the demo data and the simulated scanner, and its window, shown.
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

// Runs the event loop until the desk is idle and its pictures are available.
void settle(Desk& desk);
void until(const std::function<bool()>& so); // runs the event loop until `so` returns true
void close_sheet();
// Scans a demo paper into a document of its own and reads it.
void scan_paper(Desk& desk, const char* file, double angle, int dpi);
// Grabs the window with the sheets that are open over it.
void shoot(MainWindow& window, const QString& file);

}
