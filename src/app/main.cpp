#include "app/application.h"
#include "app/demo.h"
#include "app/end_watch.h"
#include "app/errands/desktop_entry.h"
#include "app/errands/stand_in.h"
#include "app/models/tray/tray_folder.h"
#include "app/one_window.h"
#include "app/shots/shots.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "jobs/trouble.h"

#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QStandardPaths>
#include <QTimer>

#include <algorithm>
#include <cstdio>
#include <functional>
#include <span>
#include <string_view>

using namespace yelvin;

namespace {

// Runs after the paint event that was queued before.
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

struct Arguments {
    bool demo = false, prints_times = false;
    QString shots, data; // folders; empty: not given
    Wish wish;
};

// Prints and ends the program if help or the version was requested, or if the arguments are wrong.
Arguments arguments_of(const QCoreApplication& application) {
    QCommandLineParser parser;
    parser.setApplicationDescription("Scans documents, recognises their text and saves them with good names.");
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo("demo", "Start with demo papers and the simulated scanner");
    const QCommandLineOption shots("shots", "Save the pictures for the documentation in a folder and exit", "folder");
    const QCommandLineOption times(
        "time-to-window", "Print the milliseconds until the window and the pages of its tray are painted, and exit");
    const QCommandLineOption data("data", "Folder for all data (default: your own)", "folder");
    const QCommandLineOption ticket("ticket", "Use the ticket with this name", "name");
    const QCommandLineOption scan("scan", "Scan immediately");
    parser.addOptions({demo, shots, times, data, ticket, scan});
    parser.addPositionalArgument("files", "Picture files and PDFs to add", "[files…]");
    parser.process(application);
    return {parser.isSet(demo),
            parser.isSet(times),
            parser.value(shots),
            parser.value(data),
            {parser.positionalArguments(), parser.value(ticket), parser.isSet(scan)}};
}

// Help and version are printed on a terminal, where there may be no window system.
bool asks_for_words(std::span<char*> arguments) {
    constexpr std::string_view words[] = {"-h", "--help", "--help-all", "-v", "--version"};
    return std::ranges::any_of(arguments, [&](const char* argument) {
        return std::ranges::find(words, std::string_view(argument)) != std::end(words);
    });
}

DeskPlaces places_of(const Arguments& arguments) {
    if (!arguments.demo && arguments.data.isEmpty())
        return {QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/tray",
                QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation), demo::originals_folder()};
    return demo::places(arguments.data);
}

// The XDG Base Directory Specification's place for logs; Qt knows it from 6.7 on.
QString state_folder(const Arguments& arguments) {
    if (arguments.demo || !arguments.data.isEmpty()) return arguments.data + "/state";
    const QString given = qEnvironmentVariable("XDG_STATE_HOME");
    return (given.startsWith('/') ? given : QDir::homePath() + "/.local/state") + "/yelvin";
}

constexpr int another_tray = 1000; // an exit code: the user begins another out tray

int run_window(Application& application, const Arguments& arguments, const DeskPlaces& places,
               const QElapsedTimer& since_start) {
    std::optional<EndWatch> end; // Outlives every object whose destructor may hang.
    const QString tray = tray_folder(places.data, LastChoices(places.settings));
    const auto one = OneWindow::become_or_hand_over(tray, arguments.wish, std::chrono::seconds(10));
    if (!one) return 0;
    Desk desk(places);
    application.set_messages(&desk.messages);
    if (arguments.demo) {
        desk.scanners.use_bench();
        demo::set_up(desk, arguments.data);
        demo::fill_cabinet(desk, arguments.data);
        demo::begin_server(desk, arguments.data);
    }
    if (!arguments.demo && arguments.data.isEmpty()) keep_desktop_entry(desk.tickets, desk.pools.errands());
    MainWindow window(desk.for_window());
    QObject::connect(&desk.tray, &OutTray::fresh_tray_wanted, [&desk] {
        desk.choose_fresh_tray();
        QApplication::exit(another_tray);
    });
    QObject::connect(one.get(), &OneWindow::asked_for, [&](const Wish& wish) {
        window.come_forward();
        window.fulfil(wish);
    });
    window.show();
    if (arguments.prints_times) print_times(desk, since_start);
    window.fulfil(arguments.wish);
    const int status = QApplication::exec();
    end.emplace(Closing::to_end, 0);
    application.set_messages(nullptr);
    return status;
}

}

int main(int argc, char** argv) {
    QElapsedTimer since_start;
    since_start.start();
    QCoreApplication::setApplicationName("yelvin");
    QCoreApplication::setApplicationVersion(YELVIN_VERSION);
    if (asks_for_words(std::span(argv, static_cast<size_t>(argc)))) arguments_of(QCoreApplication(argc, argv));
    Application application(argc, argv);
    QApplication::setApplicationDisplayName("Yelvin");
    QApplication::setDesktopFileName("yelvin");
    theme::apply(application);
    Arguments arguments = arguments_of(application);
    if (!arguments.shots.isEmpty()) return shots::take(arguments.shots, arguments.wish.files.value(0));

    if (arguments.demo && arguments.data.isEmpty())
        arguments.data = QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/yelvin-demo";
    for (QString& file : arguments.wish.files)
        file = QFileInfo(file).absoluteFilePath(); // the other window is elsewhere
    DeskPlaces places = places_of(arguments);
    places.real_scanners = true;
    if (arguments.demo)
        places.outside = [base = arguments.data](Pools& pools) {
            return std::make_unique<StandInOutside>(base, pools.errands());
        };
    const std::filesystem::path state = state_folder(arguments).toStdString();
    places.crashed_before = crashed_last_time(state);
    start_log(state);
    int status = another_tray;
    while (status == another_tray) status = run_window(application, arguments, places, since_start);
    return status;
}
