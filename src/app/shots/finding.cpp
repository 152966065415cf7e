// Pictures of the cabinet: search results, and a folder that is being added.
#include "app/shots/camera.h"
#include "app/shots/scenes.h"

#include <QDir>
#include <QLineEdit>

namespace yelvin::shots {

namespace {

void found(Desk& desk) {
    until([&] { return !desk.cabinet.at_work() && !desk.in_cabinet.is_looking(); });
    settle(desk);
    until([&] { return !desk.in_cabinet.current() || !desk.in_cabinet.picture().isNull(); });
    settle(desk);
}

}

void take_cabinet(const QDir& out) {
    Stage stage;
    Desk& desk = stage.desk;
    MainWindow& window = stage.window;
    qputenv("HOME", stage.base.path().toUtf8());
    scan_paper(desk, "lease-1.svg", 0.6, 200);
    desk.saving.save_all();
    settle(desk);
    demo::fill_cabinet(desk, stage.base.path());
    window.open_cabinet();
    until([&] { return desk.cabinet.taking().done >= 5; });
    desk.cabinet.stop_taking();
    settle(desk);
    window.close_news();
    shoot(window, out.filePath("taking-in.png"));
    desk.cabinet.go_on();
    until([&] { return desk.cabinet.taking().done == desk.cabinet.taking().of; });
    QFile::remove(stage.base.path() + "/Archive/Old post/Log sheet week 14.pdf");
    found(desk);
    window.findChild<QLineEdit*>("cabinet-entry")->setText("mooring heron");
    found(desk);
    shoot(window, out.filePath("cabinet.png"));
}

}
