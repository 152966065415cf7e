#include "app/demo.h"
#include "app/shots/shots.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTimer>

#include <cstdio>
#include <functional>

using namespace yelvin;

namespace {

// After a paint, which was queued before.
void print_times(Desk& desk, const QElapsedTimer& since_start) {
    const auto print_then = [&since_start](const std::function<void()>& then) {
        QTimer::singleShot(0, qApp, [&since_start, then] {
            std::printf("%lld\n", static_cast<long long>(since_start.elapsed()));
            then();
        });
    };
    print_then(
        [&desk, print_then] { desk.tray.when_loaded([print_then] { print_then([] { QApplication::quit(); }); }); });
}

}

int main(int argc, char** argv) {
    QElapsedTimer since_start;
    since_start.start();
    QApplication application(argc, argv);
    QApplication::setApplicationName("yelvin");
    QApplication::setApplicationDisplayName("Yelvin");
    QApplication::setDesktopFileName("yelvin");
    QCommandLineParser arguments;
    arguments.setApplicationDescription("Scan paper, read it, save it under a good name.");
    arguments.addHelpOption();
    const QCommandLineOption demo_option("demo", "Start with the demo's papers and the simulated scanner.");
    const QCommandLineOption shots_option("shots", "Write the documentation's pictures into a folder and end.",
                                          "folder");
    const QCommandLineOption time_option(
        "time-to-window", "Print the milliseconds to the first painted window, and to its tray's pages, and end.");
    const QCommandLineOption base_option("data", "Keep everything under this folder.", "folder");
    arguments.addOptions({demo_option, shots_option, time_option, base_option});
    arguments.addPositionalArgument("files", "Pictures and PDFs to add.", "[files…]");
    arguments.process(application);
    theme::apply(application);

    if (arguments.isSet(shots_option))
        return shots::take(arguments.value(shots_option), arguments.positionalArguments().value(0));

    const bool demo = arguments.isSet(demo_option);
    DeskPlaces places{QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/tray",
                      QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation), demo::originals_folder()};
    const QString base = arguments.isSet(base_option)
                             ? arguments.value(base_option)
                             : QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/yelvin-demo";
    if (demo || arguments.isSet(base_option)) places = demo::places(base);
    places.real_scanners = true;
    Desk desk(places);
    if (demo) {
        desk.scanners.use_bench();
        demo::set_up(desk, base);
    }
    MainWindow window(desk.for_window());
    window.show();
    if (arguments.isSet(time_option)) print_times(desk, since_start);
    if (!arguments.positionalArguments().isEmpty()) desk.files.add(arguments.positionalArguments());
    return QApplication::exec();
}
