#include "app/shots/shots.h"

#include "app/demo.h"
#include "app/errands/stand_in.h"
#include "app/shots/scenes.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QDir>
#include <QTemporaryDir>

namespace yelvin::shots {

namespace {

// The demo's desk with the mail program and the printer that stand in for real ones.
DeskPlaces demo_places(const QString& base) {
    DeskPlaces places = demo::places(base);
    places.outside = [base](Pools& pools) { return std::make_unique<StandInOutside>(base, pools.errands()); };
    return places;
}

// So that a tab shows how they went.
void with_errands(Desk& desk) {
    Ticket ticket = desk.tickets.ticket();
    ticket.then.errands = {Errand::Mail, Errand::Print};
    ticket.then.mail.to = {"office@wendle.example"};
    desk.tickets.set(ticket);
}

// A full tray in the dark look.
void shoot_dark(const QDir& out) {
    const QTemporaryDir evening;
    theme::use_dark(*qApp, true);
    Desk desk(demo_places(evening.path()));
    desk.scanners.use_bench();
    demo::set_up(desk, evening.path());
    MainWindow window(desk.for_window());
    window.show();
    desk.run.preview();
    settle(desk);
    bool filled = false;
    demo::fill_tray(desk, [&] { filled = true; });
    while (!filled) settle(desk);
    settle(desk);
    shoot(window, out.filePath("dark.png"));
}

}

int take(const QString& folder, const QString& only) {
    QDir().mkpath(folder);
    const QDir out(folder);
    if (only == "checking") {
        take_checking(out);
        return 0;
    }
    if (only == "naming") {
        take_naming(out);
        return 0;
    }
    if (only == "cabinet") {
        take_cabinet(out);
        return 0;
    }
    if (only == "sending") {
        take_sending(out);
        return 0;
    }
    if (only == "stitching") {
        take_stitching(out);
        return 0;
    }
    const QTemporaryDir base, empty;
    qputenv("HOME", base.path().toUtf8()); // folders are shown from it
    shoot_dark(out);
    theme::use_dark(*qApp, false);
    {
        Desk desk(demo_places(empty.path()));
        MainWindow window(desk.for_window());
        window.show();
        settle(desk);
        shoot(window, out.filePath("first-start.png"));
    }
    Desk desk(demo_places(base.path()));
    desk.scanners.use_bench();
    demo::set_up(desk, base.path());
    MainWindow window(desk.for_window());
    window.show();
    bool filled = false;
    demo::fill_tray(desk, [&] { filled = true; });
    while (!filled) settle(desk);
    settle(desk);
    desk.choice.set_current(QString::fromStdString(desk.tray.tray().documents.front()->pages.front()->id));
    window.look_at(MainWindow::Look::Page);
    settle(desk);
    shoot(window, out.filePath("page.png"));
    take_text(desk, window, out);
    window.look_at(MainWindow::Look::Page);
    with_errands(desk);
    desk.saving.save({QString::fromStdString(desk.tray.tray().documents.back()->id)});
    settle(desk);

    take_choices(desk, window, out);
    take_checking(out);
    take_naming(out);
    take_cabinet(out);
    take_sending(out);
    take_stitching(out);
    take_feeder(out);
    return 0;
}

}
