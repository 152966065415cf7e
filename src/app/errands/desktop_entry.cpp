#include "app/errands/desktop_entry.h"

#include "app/models/tickets/tickets.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <QStandardPaths>

namespace yelvin {

namespace {

constexpr const char *entry_name = "yelvin.desktop", *our_mark = "X-Yelvin-Tickets=true\n";

// Section 4 of the specification (characters that must be escaped in a value), and section 7 (inside quotes of an Exec
// line).
QString as_value(QString text) { return text.replace('\\', "\\\\").replace('\n', ' ').replace('\t', ' '); }

QString as_argument(const QString& text) {
    QString quoted;
    for (const QChar each : text) {
        if (QString("\"`$\\").contains(each)) quoted += '\\';
        quoted += each;
        if (each == '%') quoted += '%';
    }
    return as_value('"' + quoted + '"');
}

QString read_all(const QString& name) {
    QFile file(name);
    return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

QStringList button_names(const Tickets& tickets) {
    QStringList names;
    for (const QString& file : tickets.buttons())
        for (const KeptTicket& kept : tickets.kept().tickets)
            if (QString::fromStdString(kept.file.string()) == file)
                names.append(QString::fromStdString(kept.ticket.name));
    return names;
}

void write_entry(const QStringList& names) {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::ApplicationsLocation);
    const QString own = folder + "/" + entry_name;
    QStringList all = QStandardPaths::locateAll(QStandardPaths::ApplicationsLocation, entry_name);
    all.removeAll(own);
    const QString now = read_all(own);
    if (all.isEmpty() || (!now.isEmpty() && !now.contains(our_mark))) return;
    if (names.isEmpty()) {
        if (!now.isEmpty()) QFile::remove(own);
        return;
    }
    const QString wanted = entry_with_tickets(read_all(all.front()), names);
    if (wanted == now) return;
    QDir().mkpath(folder);
    QSaveFile file(own);
    if (file.open(QIODevice::WriteOnly) && file.write(wanted.toUtf8()) >= 0) file.commit();
}

}

QString entry_with_tickets(const QString& installed, const QStringList& tickets) {
    QString entry = installed.endsWith('\n') ? installed : installed + '\n';
    QString actions, groups;
    for (qsizetype i = 0; i < tickets.size(); ++i) {
        const QString action = QString("ticket%1").arg(i + 1);
        actions += action + ';';
        groups += "\n[Desktop Action " + action + "]\nName=" + as_value(Tickets::tr("Scan with %1").arg(tickets[i])) +
                  "\nExec=yelvin --scan --ticket " + as_argument(tickets[i]) + "\n";
    }
    const QString before = "Actions=";
    const qsizetype at = entry.indexOf(before);
    if (at < 0) return installed;
    entry.insert(at + before.size(), actions);
    entry.insert(at, our_mark);
    return entry + groups;
}

void keep_desktop_entry(Tickets& tickets, const Executor& writing) {
    const auto keep = [&tickets, writing, before = std::make_shared<std::optional<QStringList>>()] {
        const QStringList names = button_names(tickets);
        if (*before == names) return;
        *before = names;
        writing([names] { write_entry(names); });
    };
    QObject::connect(&tickets, &Tickets::changed, &tickets, keep);
    keep();
}

}
