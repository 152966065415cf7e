// A server on this computer for the demo's papers, and a ticket that sends there.
#include "app/demo.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QProcess>
#include <QStandardPaths>

#include <csignal>

#include <sys/prctl.h>

namespace yelvin::demo {

namespace {

constexpr int usual_port = 18733;
constexpr const char* server_name = "Office server";

// The server's program: built beside this one, or installed with it.
QString server_program() {
    const QDir program(QCoreApplication::applicationDirPath());
    for (const QString& place : {program.filePath("yelvin-bench-server"), program.filePath("../yelvin-bench-server")})
        if (QFileInfo(place).isExecutable()) return QDir::cleanPath(place);
    return QStandardPaths::findExecutable("yelvin-bench-server");
}

// Starts the server. Returns its address, or an empty string if it does not start.
QString begin(QProcess& process, const QString& folder, int port) {
    process.setProcessChannelMode(QProcess::SeparateChannels);
    process.setChildProcessModifier([] { ::prctl(PR_SET_PDEATHSIG, SIGTERM); }); // however this program ends
    process.start(server_program(), {"--folder", folder, "--port", QString::number(port), "--quota", "50000000"});
    constexpr int patience_ms = 3000;
    if (!process.waitForReadyRead(patience_ms)) return {};
    return QString::fromUtf8(process.readLine()).trimmed();
}

}

void begin_server(Desk& desk, const QString& base) {
    if (server_program().isEmpty()) return; // Without the program the demo has no server.
    auto* process = new QProcess(&desk.sending);
    QString address =
        // The same port each time, so that waiting files find the server at the next start.
        begin(*process, base + "/Office server", usual_port);
    if (address.isEmpty()) {
        process->waitForFinished(1000);
        address = begin(*process, base + "/Office server", 0);
    }
    if (address.isEmpty()) return;
    const Server server{server_name, (address + "Papers").toStdString()};
    desk.servers.put(server, server_name);
    QDir().mkpath(base + "/Office server/Papers");
    const auto named = [](const KeptTicket& kept) { return kept.ticket.name == "To the office server"; };
    if (std::ranges::any_of(desk.tickets.kept().tickets, named)) return;
    const QString chosen = desk.tickets.chosen_file();
    Ticket ticket = desk.tickets.ticket();
    ticket.rest = nlohmann::json::object();
    ticket.colour = "moss";
    ticket.save.folder = (base + "/Papers").toStdString();
    ticket.then.errands = {Errand::Send};
    ticket.then.send = {server.name, server.address, {{NamePart::Kind::Date, "yyyy"}}};
    desk.tickets.set(ticket);
    desk.tickets.keep_as("To the office server");
    desk.errands.use(Errand::Send, true);
    if (!chosen.isEmpty()) desk.tickets.choose(chosen);
}

}
