// Pictures of a paper jam and of a map that is stitched.
#include "app/bench/papers.h"
#include "app/shots/camera.h"
#include "app/shots/scenes.h"

#include <QDir>

namespace yelvin::shots {

// Takes the picture of a paper jam in the feeder.
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
}

// Takes the picture of the canal map, which is nine times as large as the glass.
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

}
