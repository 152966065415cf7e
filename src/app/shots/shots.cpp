#include "app/shots/shots.h"

#include "app/demo.h"
#include "app/errands/stand_in.h"
#include "app/shots/camera.h"
#include "app/shots/scenes.h"
#include "app/theme/theme.h"
#include "app/tray/tray_strip.h"

#include <QApplication>
#include <QDir>
#include <QMouseEvent>
#include <QTemporaryDir>

#include <iterator>

namespace yelvin::shots {

namespace {

// Returns the places of the demo's desk, with a simulated mail program and a simulated printer.
DeskPlaces demo_places(const QString& base) {
    DeskPlaces places = demo::places(base);
    places.outside = [base](Pools& pools) { return std::make_unique<StandInOutside>(base, pools.errands()); };
    return places;
}

// Adds actions, so that a tab shows their results.
void with_errands(Desk& desk) {
    Ticket ticket = desk.tickets.ticket();
    ticket.then.errands = {Errand::Mail, Errand::Print};
    ticket.then.mail.to = {"office@wendle.example"};
    desk.tickets.set(ticket);
}

// Gives the documents three different tickets and shows one of them.
void mix_tickets(Desk& desk, MainWindow& window) {
    const std::vector<DocumentPtr> documents = desk.tray.tray().documents;
    const char* tickets[] = {"Mooring leases", "Receipts", "Photographs"};
    for (size_t i = 0; i < documents.size(); ++i)
        for (const KeptTicket& kept : desk.tickets.kept().tickets)
            if (kept.ticket.name == tickets[i % std::size(tickets)])
                desk.document_tickets.put_as({QString::fromStdString(documents[i]->id)},
                                             QString::fromStdString(kept.file.string()));
    desk.choice.set_current(QString::fromStdString(documents.front()->pages.front()->id));
    settle(desk);
    auto* strip = window.findChild<TrayStrip*>("tray");
    const QPointF at = strip->ticket_rect(QString::fromStdString(documents.front()->id)).center();
    for (const auto what : {QEvent::MouseButtonPress, QEvent::MouseButtonRelease}) {
        QMouseEvent event(what, at, strip->mapToGlobal(at), Qt::LeftButton, Qt::LeftButton, {});
        QApplication::sendEvent(strip, &event);
    }
    settle(desk);
}

// Takes the picture of a full tray in the dark theme.
void shoot_dark(const QDir& out) {
    const QTemporaryDir evening;
    qputenv("HOME", evening.path().toUtf8()); // folders are shown from it
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
    mix_tickets(desk, window);
    shoot(window, out.filePath("dark.png"));
    close_sheet();
}

}

namespace {

// A scene that can be taken alone. All scenes are taken in this order.
struct Scene {
    const char* name;
    void (*take)(const QDir& out);
};
constexpr Scene scenes[] = {{"checking", take_checking}, {"naming", take_naming},       {"cabinet", take_cabinet},
                            {"sending", take_sending},   {"stitching", take_stitching}, {"feeder", take_feeder}};

}

int take(const QString& folder, const QString& only) {
    QDir().mkpath(folder);
    const QDir out(folder);
    for (const Scene& scene : scenes) {
        if (only != scene.name) continue;
        scene.take(out);
        return 0;
    }
    const QTemporaryDir base, empty;
    shoot_dark(out);
    theme::use_dark(*qApp, false);
    qputenv("HOME", base.path().toUtf8());
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
    for (const Scene& scene : scenes) scene.take(out);
    return 0;
}

}
