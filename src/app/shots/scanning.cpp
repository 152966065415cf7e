// A stack, a map, and the list of scanners.
#include "app/bench/papers.h"
#include "app/demo.h"
#include "app/shots/scenes.h"
#include "app/ticketbar/ticket_bar.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

namespace yelvin::shots {

// The feeder: a run under way, a jam, and the blank limit.
void take_feeder(const QDir& out) {
    Stage stage;
    Desk& desk = stage.desk;
    MainWindow& window = stage.window;
    Ticket ticket = desk.tickets.ticket();
    ticket.name = "Day's post";
    ticket.colour = "moss";
    ticket.from.source = Source::FeederBoth;
    ticket.from.paper = "auto";
    ticket.how.dpi = 200;
    ticket.pages.drop_blank = true;
    ticket.read.languages.clear();
    desk.tickets.set(ticket);
    BenchSetup bench = desk.scanners.bench().bench();
    bench.stack = demo_stack(desk.places.originals);
    bench.real_pace = false;
    bench.faults = {{ErrorKind::Jam, 4, true}};
    desk.scanners.set_bench(bench);
    window.look_at(MainWindow::Look::Glass);
    settle(desk);
    desk.run.start();
    until([&] { return desk.run.waiting().what == Waiting::For::Fault; });
    settle(desk);
    settle(desk); // the page as it is cut comes a moment later
    shoot(window, out.filePath("jam.png"));
    desk.run.go_on();
    until([&] { return !desk.run.passing(); });
    settle(desk);
    window.open_blank_sheet();
    settle(desk);
    shoot(window, out.filePath("blank-sides.png"));
    close_sheet();
}

// The canal map, nine times as large as the glass.
void take_stitching(const QDir& out) {
    Stage stage;
    Desk& desk = stage.desk;
    MainWindow& window = stage.window;
    const auto parts =
        parts_of(desk.places.originals.toStdString() + "/canal-map.svg", desk.scanners.capabilities().glass);
    BenchSetup bench = desk.scanners.bench().bench();
    bench.glass = {parts.front()};
    bench.real_pace = false;
    desk.scanners.set_bench(bench);
    Ticket ticket = desk.tickets.ticket();
    ticket.how.dpi = 150;
    desk.tickets.set(ticket);
    window.scan_in_pieces();
    Stitching& stitching = desk.stitching;
    for (size_t part = 0; part < parts.size(); ++part) {
        desk.run.scan_piece();
        until([&] { return stitching.pieces().size() > part && !stitching.working(); });
        settle(desk);
        if (part == 3) shoot(window, out.filePath("guided-scan.png"));
    }
    stitching.choose(4);
    settle(desk);
    shoot(window, out.filePath("stitch.png"));
}

// libsane's own test devices stand for real scanners in the list.
void take_scanners(const QDir& out) {
    const QTemporaryDir base;
    QFile configuration(base.filePath("dll.conf"));
    if (configuration.open(QIODevice::WriteOnly)) configuration.write("test\n");
    configuration.close();
    qputenv("SANE_CONFIG_DIR", base.path().toUtf8());
    DeskPlaces places = demo::places(base.path());
    places.real_scanners = true;
    Desk desk(places);
    desk.scanners.use_bench();
    demo::set_up(desk, base.path());
    MainWindow window(desk.for_window());
    window.show();
    until([&] { return !desk.scanners.looking(); });
    settle(desk);
    window.ticket_bar().open_phrase("scanner");
    until([&] { return !desk.scanners.looking(); });
    settle(desk);
    shoot(window, out.filePath("scanners.png"));
    close_sheet();
}

}
