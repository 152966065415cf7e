#include "app/demo.h"

#include "app/bench/papers.h"

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

namespace {

// Makes a ticket for each action.
void keep_errands(Desk& desk, const Ticket& everyday, const QString& base) {
    struct Errands {
        const char *name, *colour;
        std::vector<Errand> then;
        void (*more)(Ticket&);
    };
    const Errands all[] = {
        {"Send to the office",
         "moss",
         {Errand::Mail, Errand::Show},
         [](Ticket& t) {
             t.then.mail.to = {"office@wendle.example"};
             t.then.mail.words = {{NamePart::Kind::Words, "The post of"}, {NamePart::Kind::Date, "dd.mm.yyyy"}};
             t.save.at_once = true;
         }},
        {"Copies", "ink", {Errand::Print}, [](Ticket& t) { t.then.print.as_copy = true; }},
        {"Print with preview", "amber", {Errand::Print}, [](Ticket& t) { t.then.print.look_first = true; }},
        {"For editing", "brick", {Errand::Open, Errand::Clipboard}, [](Ticket& t) {
             t.make.format = Format::Odt;
             t.then.clipboard = ClipboardAs::Text;
         }}};
    const QString chosen = desk.tickets.chosen_file();
    for (const Errands& each : all) {
        const auto named = [&](const KeptTicket& kept) { return kept.ticket.name == each.name; };
        if (std::ranges::any_of(desk.tickets.kept().tickets, named)) continue;
        Ticket ticket = everyday;
        ticket.rest = nlohmann::json::object();
        ticket.colour = each.colour;
        ticket.save.folder = (base + "/Papers").toStdString();
        ticket.then.errands = each.then;
        each.more(ticket);
        desk.tickets.set(ticket);
        desk.tickets.keep_as(each.name);
        for (const Errand errand : each.then) desk.errands.use(errand, true);
    }
    if (!chosen.isEmpty()) desk.tickets.choose(chosen);
}

}

void set_up(Desk& desk, const QString& base) {
    QDir().mkpath(base + "/Leases");
    // The first tickets save beside the demo's data, not into the user's folders. Tickets of an earlier demo do so
    // already.
    QDir().mkpath(base + "/Papers");
    QStringList files;
    for (const KeptTicket& kept : desk.tickets.kept().tickets)
        if (kept.ticket.save.folder.starts_with("~")) files.append(QString::fromStdString(kept.file.string()));
    for (const QString& file : files)
        desk.tickets.change_kept(file, [&](Ticket& kept) { kept.save.folder = (base + "/Papers").toStdString(); });
    Ticket ticket = desk.tickets.ticket();
    ticket.name = "Mooring leases";
    ticket.from.paper = "A4";
    ticket.save.folder = (base + "/Leases").toStdString();
    ticket.save.name = {
        {NamePart::Kind::Date, "yyyy-mm-dd"}, {NamePart::Kind::Words, "Mooring"}, {NamePart::Kind::Counter, "", 3}};
    desk.tickets.set(ticket);
    const auto named = [&](const KeptTicket& kept) { return kept.ticket.name == ticket.name; };
    if (std::ranges::any_of(desk.tickets.kept().tickets, named))
        desk.tickets.choose_named(QString::fromStdString(ticket.name));
    else
        desk.tickets.keep_as("Mooring leases");
    keep_errands(desk, ticket, base);
    BenchSetup bench;
    bench.real_pace = true;
    LaidPaper lease = laid_down(desk.places.originals + "/lease-1.svg", {});
    lease.angle_degrees = 1.4;
    bench.glass = {lease};
    bench.stack = demo_stack(desk.places.originals);
    desk.scanners.set_bench(bench);
}

namespace {
struct Lay {
    const char* file;
    double angle;
    bool new_document;
};
constexpr Lay order[] = {{"lease-1.svg", 1.4, true}, {"lease-2.svg", -0.8, false}, {"towpath-form.svg", 180.6, true}};

void scan_next(Desk& desk, size_t index, const std::function<void()>& done) {
    if (index >= std::size(order)) return done();
    BenchSetup bench = desk.scanners.bench().bench();
    bench.real_pace = false;
    LaidPaper paper = laid_down(desk.places.originals + "/" + order[index].file, {});
    paper.angle_degrees = order[index].angle;
    bench.glass = {paper};
    desk.scanners.set_bench(bench);
    if (order[index].new_document) desk.tray.set_next_page_starts_document(true);
    auto* once = new QObject(&desk.run);
    QObject::connect(&desk.looking, &Looking::changed, once, [&desk, index, done, once] {
        if (desk.run.passing() || desk.looking.in_work() > 0) return;
        once->deleteLater();
        QObject::disconnect(&desk.looking, nullptr, once, nullptr);
        scan_next(desk, index + 1, done);
    });
    desk.run.start();
}
}

void fill_tray(Desk& desk, const std::function<void()>& done) { scan_next(desk, 0, done); }

}
