// The desk's tickets: files in a folder of the person's own, one of them chosen, its choices as kept and as they are
// now.
#include "app/desk.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>

namespace yelvin {

void Desk::start_tickets() {
    const bool first_start = !QDir(tickets_folder()).exists();
    if (first_start) {
        for (const Ticket& ticket : first_tickets()) {
            const auto kept = yelvin::keep_ticket(tickets_folder().toStdString(), ticket);
            if (kept && ticket_file_.isEmpty() && ticket.name == ticket_.name)
                ticket_file_ = QString::fromStdString(kept->string());
        }
    }
    read_ticket_folder();
}

void Desk::read_ticket_folder() {
    kept_tickets_ = read_tickets(tickets_folder().toStdString());
    compare_with_kept();
}

std::optional<Ticket> Desk::kept_state() const {
    for (const KeptTicket& kept : kept_tickets_.tickets) {
        if (QString::fromStdString(kept.file.string()) == ticket_file_) return kept.ticket;
    }
    return std::nullopt;
}

// Once for every change, not for every time it is shown.
void Desk::compare_with_kept() {
    const auto kept = kept_state();
    is_kept_ = kept.has_value();
    changed_ = kept ? changed_choices(*kept, ticket_) : std::vector<std::string>{};
}

void Desk::write_ticket(const Ticket& ticket, const QString& file) {
    const auto kept = yelvin::keep_ticket(tickets_folder().toStdString(), ticket, file.toStdString());
    if (!kept) emit trouble(QString::fromStdString(kept.error().sentence));
    if (kept && file.isEmpty()) ticket_file_ = QString::fromStdString(kept->string());
    read_ticket_folder();
}

void Desk::choose_ticket(const QString& file) {
    for (const KeptTicket& kept : kept_tickets_.tickets) {
        if (QString::fromStdString(kept.file.string()) != file) continue;
        ticket_file_ = file; // set_ticket() compares
        set_ticket(kept.ticket);
        emit glass_changed();
    }
}

void Desk::keep_ticket() {
    write_ticket(ticket_, kept_state() ? ticket_file_ : QString());
    set_ticket(ticket_);
}

void Desk::keep_ticket_as(const QString& name) {
    Ticket ticket = ticket_;
    ticket.name = free_ticket_name(kept_tickets_, name.trimmed().toStdString());
    write_ticket(ticket, {});
    set_ticket(ticket);
}

void Desk::name_ticket(const QString& name) {
    if (name.trimmed().isEmpty()) return;
    if (auto kept = kept_state()) {
        kept->name = name.trimmed().toStdString();
        write_ticket(*kept, ticket_file_);
    }
    Ticket ticket = ticket_;
    ticket.name = name.trimmed().toStdString();
    set_ticket(ticket);
}

void Desk::colour_ticket(const QString& colour) {
    if (auto kept = kept_state()) {
        kept->colour = colour.toStdString();
        write_ticket(*kept, ticket_file_);
    }
    Ticket ticket = ticket_;
    ticket.colour = colour.toStdString();
    set_ticket(ticket);
}

void Desk::restore_ticket() {
    if (const auto kept = kept_state()) set_ticket(*kept);
}

void Desk::remove_ticket(const QString& file) {
    for (const KeptTicket& kept : kept_tickets_.tickets) {
        if (QString::fromStdString(kept.file.string()) != file) continue;
        removed_tickets_.push_back({kept.ticket, kept.file});
        if (!QFile::remove(file)) {
            removed_tickets_.pop_back();
            emit trouble(
                tr("%1 cannot be removed; check who may write in its folder.").arg(QFileInfo(file).fileName()));
        } else {
            emit told(tr("The ticket %1 is removed; the list of tickets can bring it back.")
                          .arg(QString::fromStdString(kept.ticket.name)));
        }
        break;
    }
    read_ticket_folder();
    // The choices in the sentence stay as they are; they only belong to no kept ticket now.
    remember();
    emit ticket_changed();
}

QStringList Desk::removed_tickets() const {
    QStringList names;
    for (const RemovedTicket& removed : removed_tickets_) names.prepend(QString::fromStdString(removed.ticket.name));
    return names;
}

void Desk::bring_back_ticket(const QString& name) {
    const auto at = std::ranges::find(removed_tickets_, name.toStdString(),
                                      [](const RemovedTicket& removed) { return removed.ticket.name; });
    if (at == removed_tickets_.end()) return;
    const QString chosen = ticket_file_;
    const std::filesystem::path old = at->file;
    std::error_code error;
    const bool free = !std::filesystem::exists(old, error);
    write_ticket(at->ticket, free ? QString::fromStdString(old.string()) : QString());
    if (!free) ticket_file_ = chosen;
    compare_with_kept();
    removed_tickets_.erase(at);
    emit ticket_changed();
}

bool Desk::import_ticket(const QString& file) {
    QFile in(file);
    if (!file.endsWith(".json", Qt::CaseInsensitive) || !in.open(QIODevice::ReadOnly)) return false;
    auto ticket = load_ticket(file.toStdString());
    if (!ticket) {
        emit trouble(QString::fromStdString(ticket.error().sentence));
        return true;
    }
    ticket->name = free_ticket_name(kept_tickets_, ticket->name);
    write_ticket(*ticket, {});
    set_ticket(*ticket);
    return true;
}

}
