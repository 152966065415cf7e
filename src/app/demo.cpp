#include "app/demo.h"

#include "app/bench/bench_sheet.h"

#include <QCoreApplication>
#include <QDir>

namespace yelvin::demo {

QString originals_folder() {
    const QDir program(QCoreApplication::applicationDirPath());
    for (const QString& place :
         {program.filePath("../share/yelvin/originals"), program.filePath("../../../../demo/originals")}) {
        if (QDir(place).exists()) return QDir::cleanPath(place);
    }
    return {};
}

DeskPlaces places(const QString& base) { return {base + "/tray", base + "/settings", originals_folder()}; }

void set_up(Desk& desk, const QString& base) {
    QDir().mkpath(base + "/Leases");
    Ticket ticket = desk.ticket();
    ticket.name = "Mooring leases";
    ticket.from.paper = "A4";
    ticket.save.folder = (base + "/Leases").toStdString();
    ticket.save.name = {
        {NamePart::Kind::Date, "yyyy-mm-dd"}, {NamePart::Kind::Words, "Mooring"}, {NamePart::Kind::Counter, "", 3}};
    desk.set_ticket(ticket);
    for (const KeptTicket& kept : desk.tickets().tickets) {
        if (kept.ticket.name == ticket.name) desk.choose_ticket(QString::fromStdString(kept.file.string()));
    }
    if (!desk.kept_state() || desk.kept_state()->name != ticket.name) desk.keep_ticket_as("Mooring leases");
    BenchSetup bench;
    bench.real_pace = true;
    LaidPaper lease = laid_down(desk.originals_folder() + "/lease-1.svg", {});
    lease.angle_degrees = 1.4;
    bench.glass = {lease};
    bench.stack = demo_stack(desk.originals_folder());
    desk.set_bench(bench);
}

namespace {
struct Lay {
    const char* file;
    double angle;
    bool new_document;
};
constexpr Lay order[] = {{"lease-1.svg", 1.4, true}, {"lease-2.svg", -0.8, false}, {"towpath-form.svg", 180.6, true}};

void scan_next(Desk& desk, size_t index, std::function<void()> done) {
    if (index >= std::size(order)) return done();
    BenchSetup bench = desk.bench().bench();
    bench.real_pace = false;
    LaidPaper paper = laid_down(desk.originals_folder() + "/" + order[index].file, {});
    paper.angle_degrees = order[index].angle;
    bench.glass = {paper};
    desk.set_bench(bench);
    if (order[index].new_document) desk.set_next_page_starts_document(true);
    auto* once = new QObject(&desk);
    QObject::connect(&desk, &Desk::busy_changed, once, [&desk, index, done, once] {
        if (desk.scanning() || desk.pages_in_work() > 0) return;
        once->deleteLater();
        QObject::disconnect(&desk, nullptr, once, nullptr);
        scan_next(desk, index + 1, done);
    });
    desk.start_scan();
}
}

void fill_tray(Desk& desk, std::function<void()> done) { scan_next(desk, 0, std::move(done)); }

}
