// Checking and correcting: how soon a page of an A3 sheet at 1200 dpi is on screen, how soon a change of Adjust is, how
// long the window's events wait while a tray of 500 pages scrolls and is reordered, and how much memory it takes.
//   yelvin-checking-bench ORIGINALS
#include "app/desk.h"
#include "app/page/page_view.h"
#include "app/theme/theme.h"
#include "app/tray/tray_strip.h"
#include "app/window/main_window.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "timed.h"

#include <fmt/format.h>

#include <QKeyEvent>
#include <QScrollArea>
#include <QScrollBar>
#include <QTemporaryDir>

#include <fstream>

using namespace yelvin;

namespace {

void until(const std::function<bool()>& so) {
    while (!so()) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
}

double resident_mb() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.starts_with("VmRSS:")) return std::stod(line.substr(6)) / 1024;
    }
    return 0;
}

// An A3 sheet at 1200 dpi with grain and lines everywhere, written as a scanner would deliver it.
Original large_sheet(const std::filesystem::path& store) {
    const int width = scanned_px(297, 1200), height = scanned_px(420, 1200);
    auto writer = OriginalWriter::begin(store, width, 1200, Ink::Colour);
    cv::RNG random(4);
    for (int top = 0; writer && top < height; top += 400) {
        cv::Mat rows(std::min(400, height - top), width, CV_8UC3);
        random.fill(rows, cv::RNG::NORMAL, cv::Scalar(232, 238, 240), cv::Scalar(2, 2, 2));
        for (int y = 0; y < rows.rows; y += 97) rows.row(y).setTo(cv::Scalar(40, 60, 50));
        for (int x = 0; x < width; x += 211) rows.col(x).setTo(cv::Scalar(120, 60, 30));
        if (!writer->append(rows)) return {};
    }
    return writer ? writer->finish().value_or(Original{}) : Original{};
}

}

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    Timed application(argc, argv);
    if (argc < 2) return 2;
    theme::apply(application);
    const QTemporaryDir base;
    const std::filesystem::path store = base.filePath("tray").toStdString();
    std::filesystem::create_directories(store);
    Tray tray;
    const Original plan = large_sheet(store);
    const auto page_of = [](const Original& original) {
        Page page{new_id(), original};
        page.noticed = true;
        return std::make_shared<const Page>(std::move(page));
    };
    tray = with_page_added(tray, page_of(plan), true);
    // 500 pages, each with its own original, ten to a document.
    cv::RNG random(9);
    for (int i = 0; i < 500; ++i) {
        cv::Mat grey(877, 620, CV_8UC1);
        random.fill(grey, cv::RNG::NORMAL, 235, 3);
        for (int y = 60; y < 800; y += 14) grey(cv::Rect(60, y, 300 + random.uniform(0, 200), 5)).setTo(60);
        tray = with_page_added(tray, page_of(*keep_original(store, {grey, 75, Ink::Grey})), i % 10 == 0);
    }
    if (auto kept = TrayStore::open(store)->keep(tray); !kept) return 1;

    Desk desk({base.filePath("tray"), base.filePath("settings"), argv[1]});
    MainWindow window(desk.for_window());
    window.resize(1280, 800);
    window.show();
    window.look_at(MainWindow::Look::Page);
    until([&] { return desk.tray.is_loaded(); });
    const auto all = page_ids(desk.tray.tray());
    PageView& view = window.page_view();
    desk.choice.set_current(QString::fromStdString(all[1]));
    until([&] { return view.is_sharp(); });
    const double before_mb = resident_mb();
    QElapsedTimer clock;
    clock.start();
    desk.choice.set_current(QString::fromStdString(all[0]));
    until([&] { return view.is_sharp(); });
    const double opened = ms(clock);
    view.repaint();
    fmt::print("  A3 at 1200 dpi ({} x {} dots) on screen after {:.0f} ms (goal: 150)\n", plan.width_px, plan.height_px,
               opened);
    clock.restart();
    view.set_zoom(1);
    until([&] { return view.is_sharp(); });
    fmt::print("  its single dots after {:.0f} ms; ", ms(clock));
    std::vector<double> times;
    for (int i = 0; i < 30; ++i) {
        clock.restart();
        QKeyEvent down(QEvent::KeyPress, i < 15 ? Qt::Key_Down : Qt::Key_Right, Qt::NoModifier);
        for (int k = 0; k < 6; ++k) QApplication::sendEvent(&view, &down);
        until([&] { return view.is_sharp(); });
        times.push_back(ms(clock));
    }
    std::ranges::sort(times);
    fmt::print("panning by half a view: median {:.0f}, worst {:.0f} ms\n", times[15], times.back());
    fmt::print("  memory for it: {:.0f} MB more than for a small page (the picture alone has {:.0f} MB)\n",
               resident_mb() - before_mb, 3.0 * plan.width_px * plan.height_px / (1 << 20));

    // Corrections on an everyday page: A4 at 300 dpi in colour, straightened.
    cv::Mat colour(3508, 2480, CV_8UC3);
    random.fill(colour, cv::RNG::NORMAL, cv::Scalar(230, 236, 238), cv::Scalar(3, 3, 3));
    for (int y = 200; y < 3300; y += 50)
        colour(cv::Rect(240, y, 1200 + random.uniform(0, 700), 18)).setTo(cv::Scalar(50, 45, 40));
    Tray with = with_page_added(desk.tray.tray(), page_of(*keep_original(store, {colour, 300, Ink::Colour})), true);
    desk.tray.edit(with, "add");
    desk.choice.set_current(QString::fromStdString(page_ids(desk.tray.tray()).back()));
    view.set_fit();
    until([&] { return view.is_sharp(); });
    for (const auto& [name, all_on] : {std::pair{"brightness, fading", false}, {"every correction at once", true}}) {
        times.clear();
        for (int i = 1; i <= 40; ++i) {
            Recipe recipe;
            recipe.tilt_degrees = 1.2;
            recipe.adjust.brightness = i;
            recipe.adjust.fading = 50;
            if (all_on) {
                recipe.adjust.sharpen = 100;
                recipe.adjust.specks_mm = 0.5;
                recipe.adjust.even_light = recipe.adjust.edge_shadow = recipe.adjust.punch_holes = 1;
                recipe.adjust.paper_white = 30;
            }
            clock.restart();
            desk.choice.try_recipe(recipe);
            until([&] { return view.is_sharp(); });
            view.repaint();
            times.push_back(ms(clock));
        }
        std::ranges::sort(times);
        fmt::print("  Adjust on A4 colour 300 dpi, {}: median {:.0f}, worst {:.0f} ms (goal: 50)\n", name, times[20],
                   times.back());
    }
    desk.choice.stop_trying();

    // The tray: scrolls from end to end, and moves pages within it.
    auto* scroll = window.tray_strip().parentWidget()->parentWidget();
    auto* bar = qobject_cast<QScrollArea*>(scroll)->horizontalScrollBar();
    for (int i = 0; i < 20; ++i) QApplication::processEvents(QEventLoop::AllEvents, 20);
    application.worst = 0;
    double paint = 0;
    for (int at = 0; at <= bar->maximum(); at += 400) {
        clock.restart();
        bar->setValue(at);
        window.tray_strip().repaint();
        paint = std::max(paint, ms(clock));
        QApplication::processEvents();
    }
    double edit = 0;
    for (int i = 0; i < 30; ++i) {
        const auto ids = page_ids(desk.tray.tray());
        clock.restart();
        desk.choice.choose({ids[static_cast<size_t>(i * 13 + 5)], ids[static_cast<size_t>(i * 11 + 9)]});
        desk.edits.move_to(QString::fromStdString(desk.tray.tray().documents[static_cast<size_t>(i)]->id), 2);
        edit = std::max(edit, ms(clock));
        QApplication::processEvents();
    }
    clock.restart();
    desk.tray.undo();
    edit = std::max(edit, ms(clock));
    until([&] { return view.is_sharp(); });
    fmt::print("  500 pages: scrolling paints in {:.0f} ms at worst, a move takes {:.0f} ms at worst, worst event "
               "{:.0f} ms (goal: 50); {:.0f} MB in all\n",
               paint, edit, application.worst, resident_mb());
    return 0;
}
