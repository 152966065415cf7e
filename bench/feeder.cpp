// A feeder at full pace through the real window: how many sides a minute reach the store, are noticed and have their
// thumbnails, how long the window's events had to wait at worst, and how much memory it took.
//   yelvin-feeder-bench ORIGINALS SHEETS
// The sides are rendered beforehand and read back as raw rows, so that the simulator's own cost is not in it.
#include "app/desk.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "devices/simulated/simulated_scanner.h"
#include "jobs/capture.h"

#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTemporaryDir>
#include <QTimer>

#include <fcntl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <atomic>
#include <cstdlib>
#include <fstream>
#include <thread>

using namespace yelvin;

namespace {

// The sides, stored as raw rows in files.
class RawSides : public Scanner {
  public:
    RawSides(const QTemporaryDir& folder, const std::string& originals, int sheets) : sheets_(sheets) {
        const char* papers[] = {"lease-1", "lease-2", "invoice", "log-sheet", "towpath-form", "lease-1"};
        for (int i = 0; i < 6; ++i) {
            BenchSetup bench;
            bench.stack = {{{originals + "/" + papers[i] + ".svg"}, {}, -0.8 + 0.37 * i}};
            SimulatedScanner scanner(bench);
            RasterSink sink;
            if (!scanner.scan({Source::FeederFront, {}, 300, Ink::Colour, true}, sink, {})) std::abort();
            const cv::Mat& page = sink.pages.front().pixels;
            const std::string file = folder.filePath(QString("side-%1").arg(i)).toStdString();
            std::ofstream(file, std::ios::binary)
                .write(reinterpret_cast<const char*>(page.data), static_cast<std::streamsize>(page.total() * 3));
            sides_.push_back({file, page.cols, page.rows});
        }
    }
    std::string name() const override { return "Raw sides"; }
    std::string kind() const override { return "simulated"; }
    Capabilities capabilities() const override {
        return {{Source::FeederFront, Source::FeederBoth}, {Ink::Colour}, {300}, {}, {216, 900}, {}, {}};
    }
    ScannerState state() const override { return ScannerState::Ready; }
    Result<void> scan(const ScanRequest&, PageSink& sink, std::stop_token stop) override {
        for (int i = 0; i < 2 * sheets_; ++i) {
            const Side& side = sides_[static_cast<size_t>(i) % sides_.size()];
            const int file = open(side.file.c_str(), O_RDONLY);
            if (auto begun = sink.begin_page({side.width, 0, 300, Ink::Colour, i / 2 + 1, i % 2 == 1}); !begun)
                return begun;
            for (int y = 0; y < side.height; y += 128) {
                cv::Mat rows(std::min(128, side.height - y), side.width, CV_8UC3);
                if (read(file, rows.data, rows.total() * 3) != static_cast<ssize_t>(rows.total() * 3)) std::abort();
                if (stop.stop_requested()) return stopped();
                if (auto taken = sink.strip(rows); !taken) return taken;
            }
            close(file);
            if (auto ended = sink.end_page(); !ended) return ended;
        }
        return {};
    }

  private:
    struct Side {
        std::string file;
        int width = 0, height = 0;
    };
    std::vector<Side> sides_;
    int sheets_;
};

// Measures the longest time between posting an event and its arrival on the window's thread.
class Waits {
  public:
    Waits() : thread_([this](std::stop_token stop) { run(stop); }) {}
    std::atomic<double> worst_ms = 0;

  private:
    QObject here_;
    std::atomic<bool> under_way_ = false;
    std::jthread thread_;

    void run(std::stop_token stop) {
        while (!stop.stop_requested()) {
            std::this_thread::sleep_for(std::chrono::milliseconds(4));
            if (under_way_.exchange(true)) continue;
            QMetaObject::invokeMethod(&here_, [this, sent = std::chrono::steady_clock::now()] {
                const double ms =
                    std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - sent).count();
                worst_ms = std::max(worst_ms.load(), ms);
                under_way_ = false;
            });
        }
    }
};

struct Figures {
    double fed_s = 0, all_s = 0, worst_ms = 0;
    size_t pages = 0;
};

// One run in a window of its own.
Figures run_once(const std::shared_ptr<RawSides>& scanner, const QString& originals) {
    const QTemporaryDir base;
    Desk desk({base.path() + "/tray", base.path() + "/settings", originals});
    desk.scanners.add(scanner);
    desk.scanners.use("Raw sides");
    Ticket ticket = desk.tickets.ticket();
    ticket.from.source = Source::FeederBoth;
    ticket.read.languages.clear();
    ticket.pages.drop_blank = true;
    ticket.save.folder = base.path().toStdString();
    desk.tickets.set(ticket);
    MainWindow window(desk.for_window());
    window.show();
    QEventLoop loop;
    desk.tray.when_loaded([&] { QTimer::singleShot(0, &loop, &QEventLoop::quit); });
    loop.exec();
    Figures figures;
    Waits waits;
    QElapsedTimer time;
    time.start();
    const auto seconds = [&] { return static_cast<double>(time.elapsed()) / 1000; };
    QObject::connect(&desk.looking, &Looking::changed, &loop, [&] {
        if (!desk.run.passing() && desk.looking.in_work() == 0) loop.quit();
    });
    QObject::connect(&desk.run, &Scanning::changed, &loop, [&] {
        if (!desk.run.passing() && figures.fed_s == 0) figures.fed_s = seconds();
    });
    desk.run.start();
    loop.exec();
    figures.all_s = seconds();
    figures.worst_ms = waits.worst_ms.load();
    figures.pages = desk.tray.tray().page_count();
    return figures;
}

// The least work for a side: reading it back, compressing, writing and syncing it, with nothing else running.
double seconds_to_keep(RawSides& scanner, int sides) {
    const QTemporaryDir folder;
    CaptureSink sink(folder.path().toStdString());
    QElapsedTimer time;
    time.start();
    if (!scanner.scan({}, sink, {})) std::abort();
    return static_cast<double>(time.elapsed()) / 1000 / sides;
}

}

int main(int argc, char** argv) {
    if (argc != 3) return 2;
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    theme::apply(application);
    const QTemporaryDir raw;
    const int sheets = std::atoi(argv[2]), sides = 2 * sheets;
    const auto scanner = std::make_shared<RawSides>(raw, argv[1], sheets);
    // The machine's speed varies, so the better of two runs counts, and storing alone is measured in the same minute.
    const double kept = seconds_to_keep(*scanner, sides);
    Figures best = run_once(scanner, argv[1]);
    if (const Figures again = run_once(scanner, argv[1]); again.all_s < best.all_s) best = again;
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    const double each = best.all_s / sides;
    fmt::print("  {} sheets, both sides, A4 colour 300 dpi: {:.0f} sides a minute (fed in {:.1f} s, all noticed after "
               "{:.1f} s); a side takes {:.0f} ms, {:.2f} of compressing and writing it with nothing else ({:.0f} ms); "
               "worst wait of an event {:.0f} ms; peak memory {} MB; {} pages in the tray\n",
               sheets, 60 / each, best.fed_s, best.all_s, 1000 * each, each / kept, 1000 * kept, best.worst_ms,
               used.ru_maxrss / 1024, best.pages);
    return 0;
}
