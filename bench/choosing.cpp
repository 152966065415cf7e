// Choosing on the glass: how long after the scanner's own time a preview is on screen, with what was found on it, and
// how long a frame that is dragged takes to be painted again.
//   yelvin-choosing-bench ORIGINALS
#include "app/desk.h"
#include "app/glass/glass_view.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"

#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QMouseEvent>
#include <QTemporaryDir>

using namespace yelvin;

namespace {

class Nowhere : public PageSink {
  public:
    Result<void> begin_page(const PageStart&) override { return {}; }
    Result<void> strip(const cv::Mat&) override { return {}; }
    Result<void> end_page() override { return {}; }
};

void until(const std::function<bool()>& so) {
    while (!so()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
}

void send(QWidget& widget, QEvent::Type type, QPointF at) {
    QMouseEvent event(type, at, widget.mapToGlobal(at), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                      Qt::LeftButton, {});
    QApplication::sendEvent(&widget, &event);
}

}

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    if (argc < 2) return 2;
    const std::string originals = argv[1];
    theme::apply(application);
    const QTemporaryDir base;
    Desk desk({base.filePath("tray"), base.filePath("settings"), QString::fromStdString(originals)});
    desk.scanners.use_bench();
    BenchSetup bench;
    bench.real_pace = true;
    bench.glass = {{originals + "/photo-top-lock.svg", 84, 60, 1.5},
                   {originals + "/photo-patient-heron.svg", 126, 174, -3},
                   {originals + "/membership-card-front.svg", 62, 261, 4}};
    desk.scanners.set_bench(bench);
    MainWindow window(desk.for_window());
    window.resize(1280, 800);
    window.show();
    window.look_at(MainWindow::Look::Glass);
    QApplication::processEvents();

    auto& glass = *window.findChild<GlassView*>("glass");
    QElapsedTimer clock;
    clock.start();
    Nowhere nowhere;
    const auto alone = desk.scanners.bench().scan(
        fitted({Source::Glass, {}, 100, Ink::Colour}, desk.scanners.capabilities()), nowhere, {});
    const double device = static_cast<double>(clock.elapsed());
    clock.restart();
    double painted = 0;
    QObject::connect(&desk.glass, &Glass::preview_growing, &window, [&] {
        glass.repaint();
        painted = static_cast<double>(clock.elapsed());
    });
    desk.run.preview();
    until([&] { return !desk.scanners.in_use(); });
    const double found = static_cast<double>(clock.elapsed());
    fmt::print("  preview on screen {:.0f} ms, of the scanner alone {:.0f} ms: {:.2f} (goal: at most 1.2); its {} "
               "items framed "
               "after {:.0f} ms\n",
               painted, device, painted / device, desk.glass.frames().size(), found);
    if (!alone || desk.glass.frames().empty()) return 1;

    const Region frame = desk.glass.frames().front().at;
    const auto corner = corners_of(frame)[2];
    std::vector<double> times[2];
    for (const int what : {0, 1}) { // the inside, a corner with its magnifier
        const QPointF from = what == 0 ? glass.to_screen(frame.x_mm, frame.y_mm) : glass.to_screen(corner.x, corner.y);
        send(glass, QEvent::MouseButtonPress, from);
        for (int i = 1; i <= 200; ++i) {
            const QPointF at = from + QPointF(i % 60, (i * 7) % 40);
            QElapsedTimer one;
            one.start();
            send(glass, QEvent::MouseMove, at);
            glass.repaint();
            times[what].push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
        }
        send(glass, QEvent::MouseButtonRelease, from);
        std::ranges::sort(times[what]);
    }
    fmt::print(
        "  dragging a frame repaints in {:.1f} ms, a corner with its magnifier in {:.1f} ms (median of 200; goal: 8)\n",
        times[0][100], times[1][100]);
    return 0;
}
