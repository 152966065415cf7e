// Pictures of the glass, the tickets, the phrases and the test strip.
#include "app/bench/papers.h"
#include "app/shots/camera.h"
#include "app/shots/scenes.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"

#include <QApplication>
#include <QDir>
#include <QFileInfo>
#include <QPainter>

#include <cstdio>

namespace yelvin::shots {

namespace {

// Chooses the ticket with that name and sets its folder to one of the demo's.
void choose_ticket(Desk& desk, const std::string& name, const QString& folder) {
    desk.tickets.choose_named(QString::fromStdString(name));
    const QString whole = QFileInfo(desk.places.data).path() + "/" + folder;
    QDir().mkpath(whole);
    Ticket ticket = desk.tickets.ticket();
    ticket.save.folder = whole.toStdString();
    desk.tickets.set(ticket);
    desk.tickets.keep();
}

// Takes one picture with the sheets of all phrases.
void shoot_phrases(Desk& desk, MainWindow& window, const QDir& out) {
    QList<QPixmap> sheets;
    for (const char* phrase :
         {"source", "scanner", "area", "ink", "dpi", "pages", "documents", "read", "make", "file", "protection",
          "properties", "also", "name", "folder", "quality", "then", "uses", "and"}) {
        window.ticket_bar().open_phrase(phrase);
        settle(desk);
        if (QWidget* open = QApplication::activePopupWidget()) sheets.append(open->grab());
        close_sheet();
    }
    // The sheet for printing is included.
    desk.errands.begin(desk.tray.tray().documents.back()->id, Errand::Print);
    settle(desk);
    if (QWidget* open = QApplication::activePopupWidget()) sheets.append(open->grab());
    close_sheet();
    constexpr int columns = 3, width = 612, gap = 14;
    int tops[columns] = {gap, gap, gap};
    QList<QRect> places;
    for (const QPixmap& each : sheets) {
        const auto column = static_cast<int>(std::ranges::min_element(tops) - tops);
        places.append({gap + column * (width + gap), tops[column], each.width(), each.height()});
        tops[column] += each.height() + gap;
    }
    QPixmap all(gap + columns * (width + gap), std::ranges::max(tops));
    all.fill(theme::colours().desk);
    QPainter painter(&all);
    for (qsizetype i = 0; i < sheets.size(); ++i) painter.drawPixmap(places[i].topLeft(), sheets[i]);
    painter.end();
    std::printf("%s\n", qPrintable(out.filePath("phrases.png")));
    all.save(out.filePath("phrases.png"));
}

}

// Takes the pictures of frames on the glass, of the sheets of phrases and tickets, and of the test strip.
void take_choices(Desk& desk, MainWindow& window, const QDir& out) {
    BenchSetup bench = desk.scanners.bench().bench();
    const auto paper = [&](const char* file, double x, double y, double angle) {
        return LaidPaper{desk.places.originals.toStdString() + "/" + file, x, y, angle};
    };
    bench.glass = {paper("photo-top-lock.svg", 84, 60, 1.5), paper("photo-patient-heron.svg", 126, 174, -3),
                   paper("membership-card-front.svg", 62, 261, 4)};
    desk.scanners.set_bench(bench);
    window.look_at(MainWindow::Look::Glass);
    choose_ticket(desk, "Photographs", "Photographs");
    window.close_news();
    desk.run.preview();
    settle(desk);
    desk.glass.choose_frame(1);
    settle(desk);
    shoot(window, out.filePath("glass.png"));
    const auto sheet = [&](const QString& phrase, const QString& file) {
        window.ticket_bar().open_phrase(phrase);
        settle(desk);
        shoot(window, out.filePath(file));
        close_sheet();
    };
    for (const KeptTicket& kept : desk.tickets.kept().tickets)
        if (!kept.ticket.then.errands.empty())
            desk.tickets.set_button(QString::fromStdString(kept.file.string()), true);
    settle(desk);
    sheet("tickets", "tickets.png");
    for (const QString& file : desk.tickets.buttons()) desk.tickets.set_button(file, false);
    shoot_phrases(desk, window, out);

    bench.glass = {paper("log-sheet.svg", 105, 148.5, 0)};
    desk.scanners.set_bench(bench);
    choose_ticket(desk, "Everyday paper", "Post");
    window.look_at(MainWindow::Look::Strip);
    desk.strip.start();
    until([&] { return !desk.strip.strip().advice.empty(); });
    settle(desk);
    shoot(window, out.filePath("test-strip.png"));
}

}
