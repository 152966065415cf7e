// The Text look with a document of a hundred pages: how long until it shows what was read, a letter typed, a word put
// right, and the way to the next page's doubtful word.
#include "app/desk.h"
#include "app/text/text_look.h"
#include "app/text/word_slip.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"

#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QTemporaryDir>

#include <algorithm>

using namespace yelvin;

namespace {

constexpr int pages = 100, lines = 45, words_a_line = 10, doubtful_a_page = 5;

// A page as OCR might have read it, at 75 dpi.
TextLayer a_reading() {
    TextLayer layer{{}, 620, 877, "eng"};
    int doubtful = 0;
    for (int row = 0; row < lines; ++row) {
        const int y = 60 + row * 17 + row / 9 * 8;
        TextLine line{{}, {60, y + 9.0}, {560, y + 9.0}, 9, 2, "eng"};
        for (int i = 0; i < words_a_line; ++i) {
            const bool doubt = (row * words_a_line + i) % (lines * words_a_line / doubtful_a_page) == 7;
            line.words.push_back(
                {doubt ? fmt::format("doubt{}", doubtful++) : "mooring", {60 + i * 50, y, 44, 9}, doubt ? 40.0 : 95.0});
        }
        layer.lines.push_back(std::move(line));
    }
    return layer;
}

Tray a_hundred_pages(const std::filesystem::path& store) {
    Tray tray;
    cv::RNG random(4);
    for (int i = 0; i < pages; ++i) {
        cv::Mat grey(877, 620, CV_8UC1);
        random.fill(grey, cv::RNG::NORMAL, 235, 3);
        Page page{new_id(), keep_original(store, {grey, 75, Ink::Grey}).value_or(Original{})};
        page.noticed = true;
        tray = with_page_added(tray, std::make_shared<const Page>(std::move(page)), i == 0);
    }
    return tray;
}

void until(const std::function<bool()>& done) {
    while (!done()) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
}

double ms(const QElapsedTimer& clock) { return static_cast<double>(clock.nsecsElapsed()) / 1e6; }

void send(QWidget* to, int key, const QString& text = {}) {
    QKeyEvent down(QEvent::KeyPress, key, Qt::NoModifier, text);
    QApplication::sendEvent(to, &down);
}

struct Times {
    std::vector<double> each;
    double median() {
        std::ranges::sort(each);
        return each[each.size() / 2];
    }
    double worst() const { return std::ranges::max(each); }
};

}

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    if (argc < 2) return 2;
    theme::apply(application);
    const QTemporaryDir base;
    const std::filesystem::path place = base.filePath("tray").toStdString();
    std::filesystem::create_directories(place);
    const Tray tray = a_hundred_pages(place);
    {
        auto store = TrayStore::open(place);
        if (!store || !store->keep(tray)) return 1;
        for (const std::string& id : page_ids(tray))
            if (!store->keep_text(id, {}, "eng", a_reading())) return 1;
    }
    Desk desk({base.filePath("tray"), base.filePath("settings"), argv[1]});
    Ticket ticket = desk.tickets.ticket();
    ticket.read.languages = {"eng"};
    desk.tickets.set(ticket);
    MainWindow window(desk.for_window());
    window.resize(1280, 800);
    window.show();
    window.look_at(MainWindow::Look::Page);
    until([&] { return desk.tray.is_loaded() && !desk.reading.at_work(); });
    desk.choice.set_current(QString::fromStdString(page_ids(desk.tray.tray()).front()));
    until([&] { return window.page_view().is_sharp(); });

    QElapsedTimer clock;
    clock.start();
    window.look_at(MainWindow::Look::Text);
    QApplication::processEvents();
    window.repaint();
    const double shown = ms(clock);
    until([&] { return window.text_look().page().is_sharp(); });
    window.repaint();
    fmt::print(
        "  {} pages of {} words: the text is on screen after {:.0f} ms, its page sharp after {:.0f} (goal: 150)\n",
        pages, lines * words_a_line, shown, ms(clock));

    auto* entry = window.findChild<SlipEntry*>("slip-entry");
    Times letters, answers, turns;
    send(&window.text_look().page(), Qt::Key_Tab);
    for (int i = 0; i < 20 * doubtful_a_page; ++i) {
        const QString before = desk.choice.current_id();
        QApplication::processEvents();
        for (const QChar letter : QString("Heron")) {
            clock.restart();
            send(entry, letter.toUpper().unicode(), letter);
            QApplication::processEvents();
            letters.each.push_back(ms(clock));
        }
        clock.restart();
        send(entry, Qt::Key_Return);
        QApplication::processEvents();
        (desk.choice.current_id() == before ? answers : turns).each.push_back(ms(clock));
    }
    if (turns.each.size() < 10) return 1; // it did not go through the pages
    fmt::print("  a letter typed shows after {:.1f} ms, {:.1f} at worst (goal: 16); a word put right and the next one "
               "shown: median {:.0f}, worst {:.0f} ms; on the next page: median {:.0f}, worst {:.0f} ms\n",
               letters.median(), letters.worst(), answers.median(), answers.worst(), turns.median(), turns.worst());
    return 0;
}
