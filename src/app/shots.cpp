#include "app/shots.h"

#include "app/bench/papers.h"
#include "app/demo.h"
#include "app/noticed/adjust_panel.h"
#include "app/noticed/noticed_panel.h"
#include "app/page/page_view.h"
#include "app/stitch/stitch_view.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/window/main_window.h"
#include "core/developing/resample.h"
#include "core/raster/image_file.h"

#include <QApplication>
#include <QDir>
#include <QEventLoop>
#include <QFile>
#include <QFileInfo>
#include <QPainter>
#include <QTemporaryDir>
#include <QTimer>

#include <cstdio>

namespace yelvin::shots {

namespace {

// Runs the event loop until the desk is at rest and its pictures are there.
void settle(Desk& desk) {
    int calm = 0;
    while (calm < 12) {
        QEventLoop loop;
        QTimer::singleShot(50, &loop, &QEventLoop::quit);
        loop.exec();
        const bool busy = !desk.tray.is_loaded() || desk.run.passing() || desk.scanners.in_use() ||
                          desk.saving.at_work() || desk.looking.in_work() > 0;
        calm = busy ? 0 : calm + 1;
    }
}

void close_sheet() {
    if (QWidget* sheet = QApplication::activePopupWidget()) sheet->close();
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

// Runs the event loop until it is so.
void until(const std::function<bool()>& so) {
    while (!so()) {
        QEventLoop loop;
        QTimer::singleShot(20, &loop, &QEventLoop::quit);
        loop.exec();
    }
}

// The window with whatever sheet is open over it.
void shoot(MainWindow& window, const QString& file) {
    QPixmap picture = window.grab();
    if (QWidget* sheet = QApplication::activePopupWidget()) {
        QPainter painter(&picture);
        painter.drawPixmap(sheet->pos() - window.pos(), sheet->grab());
    }
    std::printf("%s\n", qPrintable(file));
    picture.save(file);
}

}

namespace {

// The feeder: a run under way, a jam, and the blank limit.
void take_feeder(const QDir& out) {
    const QTemporaryDir base;
    Desk desk(demo::places(base.path()));
    desk.scanners.use_bench();
    demo::set_up(desk, base.path());
    MainWindow window(desk.for_window());
    window.show();
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
    bench = desk.scanners.bench().bench();
    bench.real_pace = true;
    bench.seconds_for_a4 = 2.5;
    desk.scanners.set_bench(bench);
    int growing = 0;
    QObject::connect(&desk.run, &Scanning::page_growing, &window,
                     [&](const QImage&, int rows, int of) { growing = 100 * rows / of; });
    desk.run.go_on();
    until([&] { return desk.run.progress().pages >= 8 && growing > 55 && growing < 90; });
    shoot(window, out.filePath("feeder-run.png"));
    until([&] { return !desk.run.passing(); });
    settle(desk);
    window.open_blank_sheet();
    settle(desk);
    shoot(window, out.filePath("blank-sides.png"));
    close_sheet();
}

// The ticket of that name, its files going into a folder of the demo's.
void choose_ticket(Desk& desk, const std::string& name, const QString& folder) {
    for (const KeptTicket& kept : desk.tickets.kept().tickets) {
        if (kept.ticket.name == name) desk.tickets.choose(QString::fromStdString(kept.file.string()));
    }
    const QString whole = QFileInfo(desk.places.data).path() + "/" + folder;
    QDir().mkpath(whole);
    Ticket ticket = desk.tickets.ticket();
    ticket.save.folder = whole.toStdString();
    desk.tickets.set(ticket);
    desk.tickets.keep();
}

// Choosing: frames on the glass, the sheets of phrases and tickets, the test strip.
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
    sheet("tickets", "tickets.png");
    // Every phrase's sheet by itself, in one picture.
    QList<QPixmap> sheets;
    for (const char* phrase :
         {"source", "scanner", "area", "ink", "dpi", "pages", "read", "make", "name", "folder", "quality", "and"}) {
        window.ticket_bar().open_phrase(phrase);
        settle(desk);
        if (QWidget* open = QApplication::activePopupWidget()) sheets.append(open->grab());
        close_sheet();
    }
    constexpr int columns = 3, width = 530, gap = 14;
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

    bench.glass = {paper("log-sheet.svg", 105, 148.5, 0)};
    desk.scanners.set_bench(bench);
    choose_ticket(desk, "Everyday paper", "Post");
    window.look_at(MainWindow::Look::Strip);
    desk.strip.start();
    until([&] { return !desk.strip.strip().advice.empty(); });
    settle(desk);
    shoot(window, out.filePath("test-strip.png"));
}

// A page of the demo as a camera sees it from the side: lit from a corner, on a dark desk.
QString photographed(Desk& desk, const QDir& folder) {
    const PagePtr page = desk.choice.current();
    const auto seen = desk.pictures.parts()->picture_of({page->id, page->original, {}, 1, {0, 0, 99999, 99999}});
    if (!seen) return {};
    const double w = seen->width_px(), h = seen->height_px();
    const std::array<cv::Point2d, 4> from{cv::Point2d(0, 0), {w, 0}, {w, h}, {0, h}},
        to{cv::Point2d(685.4, 282.7), {1515.9, 385.2}, {1441.4, 1645.9}, {325.3, 1457.8}};
    cv::Mat photo(1700, 2000, seen->pixels.type());
    resample(seen->pixels, photo, projection(to, from), cv::Scalar(52, 60, 68));
    for (int y = 0; y < photo.rows; ++y) {
        for (int x = 0; x < photo.cols; ++x) {
            const double lit = 1.04 - 0.42 * (x / 2000.0) * (0.4 + y / 1700.0);
            uchar* dot = photo.ptr(y) + static_cast<ptrdiff_t>(x) * photo.channels();
            for (int c = 0; c < photo.channels(); ++c) dot[c] = cv::saturate_cast<uchar>(dot[c] * lit);
        }
    }
    const QString file = folder.filePath("photographed.png");
    const auto png = encode_png({photo, 200, seen->ink});
    QFile out(file);
    if (png && out.open(QIODevice::WriteOnly)) out.write(png->data(), static_cast<qint64>(png->size()));
    return file;
}

// Checking and correcting: what is noticed, the folds of Adjust, cutting, flattening, and a full tray.
void take_checking(const QDir& out) {
    const QTemporaryDir base;
    Desk desk(demo::places(base.path()));
    desk.scanners.use_bench();
    demo::set_up(desk, base.path());
    MainWindow window(desk.for_window());
    window.show();
    const auto take_in = [&](const char* file, double angle, int dpi) {
        BenchSetup bench = desk.scanners.bench().bench();
        bench.real_pace = false;
        bench.glass = {LaidPaper{desk.places.originals.toStdString() + "/" + file, 105, 148.5, angle}};
        desk.scanners.set_bench(bench);
        Ticket ticket = desk.tickets.ticket();
        ticket.how.dpi = dpi;
        ticket.from.paper = std::string_view(file).starts_with("minutes") ? "A4" : "auto";
        ticket.read.languages = {"eng"};
        desk.tickets.set(ticket);
        desk.tray.set_next_page_starts_document(true);
        desk.run.start();
        settle(desk);
    };
    AdjustPanel& adjust = window.noticed().adjust();
    PageView& view = window.page_view();
    take_in("minutes-punched.svg", 0.7, 200);
    const QString minutes = desk.choice.current_id();
    take_in("towpath-form.svg", 0, 200);
    const QString form = desk.choice.current_id();
    take_in("photo-lock-keeper.svg", 2, 300);
    const QString portrait = desk.choice.current_id();
    take_in("invoice.svg", 0, 150);
    const QString camera = photographed(desk, QDir(base.path()));
    take_in("postcard.svg", 0, 300);
    desk.tray.set_next_page_starts_document(true);
    desk.files.add({camera});
    settle(desk);
    const QString askew = desk.choice.current_id();
    const auto sharp = [&] {
        settle(desk);
        until([&] { return view.is_sharp(); });
    };
    window.look_at(MainWindow::Look::Page);
    desk.choice.set_current(minutes);
    adjust.open_fold(0, true);
    sharp();
    shoot(window, out.filePath("noticed.png"));

    desk.choice.set_current(portrait);
    adjust.open_fold(2, true);
    sharp();
    shoot(window, out.filePath("cleaning.png"));

    desk.choice.set_current(form);
    adjust.open_fold(1, true);
    view.use_tool(PageTool::Crop);
    sharp();
    view.show_rulers(true);
    shoot(window, out.filePath("crop.png"));
    view.show_rulers(false);
    view.use_tool(PageTool::None);

    desk.choice.set_current(askew);
    view.use_tool(PageTool::Corners);
    sharp();
    shoot(window, out.filePath("flatten.png"));
    view.use_tool(PageTool::None);

    // Sixty pages in twelve documents.
    desk.choice.choose({portrait.toStdString()});
    desk.edits.remove();
    while (page_ids(desk.tray.tray()).size() < 60) {
        const auto all = page_ids(desk.tray.tray());
        const size_t wanted = std::min<size_t>(all.size(), 60 - all.size());
        desk.choice.choose(PageIds(all.begin(), all.begin() + static_cast<ptrdiff_t>(wanted)));
        desk.edits.duplicate();
    }
    while (desk.tray.tray().documents.size() > 1)
        desk.tray.edit(without_divider_at(desk.tray.tray(), desk.tray.tray().documents.back()->id), "join");
    const auto all = page_ids(desk.tray.tray());
    for (size_t i = 5; i < all.size(); i += 5) desk.tray.edit(with_divider_at(desk.tray.tray(), all[i]), "divide");
    desk.choice.set_current(QString::fromStdString(all[1]));
    desk.choice.choose_every_other(true);
    desk.choice.toggle(QString::fromStdString(all[6]));
    sharp();
    shoot(window, out.filePath("tray-sixty.png"));
}

// The canal map, nine times as large as the glass.
void take_stitching(const QDir& out) {
    const QTemporaryDir base;
    Desk desk(demo::places(base.path()));
    desk.scanners.use_bench();
    demo::set_up(desk, base.path());
    MainWindow window(desk.for_window());
    window.show();
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
    until([&] { return !stitching.places().empty(); });
    stitching.choose(-1);
    bool shown = false;
    QObject::connect(&stitching, &Stitching::part_ready, &window, [&] { shown = true; });
    stitching.walk_to(std::min(3, static_cast<int>(stitching.places().size()) - 1));
    until([&] { return shown; });
    settle(desk);
    shoot(window, out.filePath("seam-walk.png"));
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
int take(const QString& folder, const QString& only) {
    QDir().mkpath(folder);
    const QDir out(folder);
    if (only == "checking") {
        take_checking(out);
        return 0;
    }
    if (only == "stitching") {
        take_stitching(out);
        return 0;
    }
    const QTemporaryDir base, empty, evening;
    qputenv("HOME", base.path().toUtf8()); // folders are shown from it
    {
        theme::use_dark(*qApp, true);
        Desk desk(demo::places(evening.path()));
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
    theme::use_dark(*qApp, false);
    {
        Desk desk(demo::places(empty.path()));
        MainWindow window(desk.for_window());
        window.show();
        settle(desk);
        shoot(window, out.filePath("first-start.png"));
    }
    Desk desk(demo::places(base.path()));
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
    desk.saving.save({QString::fromStdString(desk.tray.tray().documents.back()->id)});
    settle(desk);

    take_choices(desk, window, out);
    take_checking(out);
    take_stitching(out);
    take_feeder(out);
    take_scanners(out);
    return 0;
}

}
