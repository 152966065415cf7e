// The window beside servers that are dead: how long its events wait at worst while a test is begun, files are handed
// in, held, sent again, taken out, and how long the end takes meanwhile. One server takes connections and never says a
// word, one is not there, one has a name that nobody knows.
//   yelvin-sending-bench
#include "app/desk.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "core/sending/server_check.h"
#include "timed.h"

#include <fmt/format.h>

#include <QTcpServer>
#include <QTemporaryDir>

#include <fstream>

using namespace yelvin;

namespace {

constexpr int files = 20;

void until(const std::function<bool()>& so) {
    while (!so()) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
}

void for_a_moment() {
    QElapsedTimer clock;
    clock.start();
    until([&] { return ms(clock) > 300; });
}

// Another process could take the port meanwhile; here nobody does.
std::string closed_port() {
    QTcpServer gone;
    gone.listen(QHostAddress::LocalHost);
    return std::to_string(gone.serverPort());
}

void measure(Timed& application, const char* which, const std::string& address) {
    const QTemporaryDir base;
    QStringList papers;
    for (int i = 0; i < files; ++i) {
        papers << base.filePath(QString("%1.pdf").arg(i));
        std::ofstream(papers.back().toStdString()) << std::string(200'000, 'p');
    }
    auto desk = std::make_unique<Desk>(DeskPlaces{base.filePath("tray"), base.filePath("settings"), {}});
    auto window = std::make_unique<MainWindow>(desk->for_window());
    window->show();
    for_a_moment();
    application.worst = 0;
    const Server server{"Dead", address};
    desk->servers.put(server, {});
    bool ended = false;
    desk->sending.test(
        server, {}, [](const ServerStep&) {}, [&] { ended = true; });
    for_a_moment();
    desk->sending.send("paper", papers, {"Dead", address, {"Box"}}, [](const Result<void>&) {});
    until([&] { return desk->sending.items().size() == files; });
    for_a_moment();
    const auto items = desk->sending.items();
    for (size_t i = 0; i < items.size(); ++i) {
        if (i % 3 == 0) desk->sending.pause(items[i].id);
        if (i % 3 == 1) desk->sending.retry(items[i].id);
        if (i % 3 == 2) desk->sending.remove(items[i].id);
    }
    for_a_moment();
    const double worst = application.worst;
    QElapsedTimer clock;
    clock.start();
    window.reset();
    desk.reset();
    fmt::print("  {}: worst event {:.0f} ms (goal: 50); the end {:.0f} ms; the test {}\n", which, worst, ms(clock),
               ended ? "had ended" : "was under way");
}

}

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    Timed application(argc, argv);
    theme::apply(application);
    QTcpServer silent; // the kernel takes the connections, nobody reads them
    silent.listen(QHostAddress::LocalHost);
    silent.pauseAccepting();
    measure(application, "silent", fmt::format("http://127.0.0.1:{}/", silent.serverPort()));
    measure(application, "silent, SFTP", fmt::format("sftp://127.0.0.1:{}/papers", silent.serverPort()));
    measure(application, "not there", fmt::format("http://127.0.0.1:{}/", closed_port()));
    measure(application, "no such name", "https://no-such-server.invalid/");
    return 0;
}
