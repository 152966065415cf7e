// The part of Tickets for files that came from elsewhere or were changed by another program: the user is asked before
// they are used.
#include "app/models/threads/apart.h"
#include "app/models/tickets/tickets.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "core/ticket/ticket_json.h"

#include <QCryptographicHash>

#include <map>

namespace yelvin {

namespace {

constexpr const char* accepted_tickets = "accepted tickets"; // file: the mark of its contents
using AcceptedMarks = std::map<std::string, std::string>;

std::string mark_of_json(const nlohmann::json& json) {
    const std::string text = json.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
    return QCryptographicHash::hash(QByteArray::fromStdString(text), QCryptographicHash::Sha256).toHex().toStdString();
}

// A digest of the ticket. Keys with their default value are left out, so that a version with more keys computes the
// same digest.
std::string mark_of_ticket(const Ticket& ticket) {
    const nlohmann::json whole = ticket_to_json(ticket), unset = ticket_to_json(Ticket{});
    nlohmann::json said = nlohmann::json::object();
    for (const auto& [key, value] : whole.items()) {
        if (unset.contains(key) && unset[key] == value) continue;
        said[key] = value;
        if (!value.is_object() || !unset.contains(key)) continue;
        for (const auto& [within, is] : value.items())
            if (unset[key].contains(within) && unset[key][within] == is) said[key].erase(within);
    }
    return mark_of_json(said);
}

// The digest as computed by versions without halves of other tickets and without files that grow.
std::string earlier_mark_of(const Ticket& ticket) {
    nlohmann::json json = ticket_to_json(ticket);
    for (const char* key : {"scan_like", "put_like", "back", "fixed"}) json.erase(key);
    json["pages"].erase("documents");
    json["save"].erase("grows");
    return mark_of_json(json);
}

bool has_new_choices(const Ticket& ticket) {
    return ticket.pages.documents != Documents::Joined || ticket.save.grows != Ticket::Save::Grows::No ||
           !ticket.scan_like.empty() || !ticket.put_like.empty() || !(ticket.back == Ticket::Back{}) || ticket.fixed;
}

bool holds(const AcceptedMarks& marks, const KeptTicket& kept) {
    const auto at = marks.find(kept.file.string());
    if (at == marks.end()) return false;
    return at->second == mark_of_ticket(kept.own) ||
           (!has_new_choices(kept.own) && at->second == earlier_mark_of(kept.own));
}

}

// Accepts the tickets that were in use under an earlier version, which stored no digests.
void Tickets::accept_those_in_use() {
    if (!last_.get(accepted_tickets).is_null()) return;
    for (const KeptTicket& kept : kept_.tickets) mark_accepted(kept.file, kept.own);
}

const KeptTicket* Tickets::not_accepted(const KeptTicket& kept) const {
    const auto marks = last_.get<AcceptedMarks>(accepted_tickets, {});
    if (!holds(marks, kept)) return &kept;
    for (const std::filesystem::path& file : kept.follows)
        if (const KeptTicket* other = kept_at(QString::fromStdString(file.string())); other && !holds(marks, *other))
            return other;
    return nullptr;
}

bool Tickets::is_accepted(const KeptTicket& kept) const { return not_accepted(kept) == nullptr; }

void Tickets::mark_accepted(const std::filesystem::path& file, const Ticket& own) {
    auto marks = last_.get<AcceptedMarks>(accepted_tickets, {});
    marks[file.string()] = mark_of_ticket(own);
    last_.set(accepted_tickets, marks);
}

void Tickets::ask_about(Asked asked) {
    asked_ = std::move(asked);
    emit acceptance_wanted();
}

std::optional<Ticket> Tickets::accepted(const QString& file, bool to_choose) {
    read_folder(); // Uses the file's present contents.
    const KeptTicket* kept = kept_at(file);
    if (!kept) return std::nullopt;
    const KeptTicket* other = not_accepted(*kept);
    if (!other) return kept->ticket;
    ask_about({other->ticket, QString::fromStdString(other->file.string()), other->own, to_choose ? file : QString()});
    return std::nullopt;
}

void Tickets::refuse_asked() {
    asked_.reset();
    emit acceptance_wanted();
}

// Accepts the content that was shown to the user. The file may have changed again since.
void Tickets::accept_asked() {
    auto asked = std::exchange(asked_, {});
    emit acceptance_wanted();
    if (!asked) return;
    if (asked->file.isEmpty()) {
        asked->ticket.name = free_ticket_name(kept_, asked->ticket.name);
        write(asked->ticket, {});
        emit another_chosen();
        set(asked->ticket);
        const KeptTicket* kept = chosen(); // One of its halves may be taken from another ticket.
        if (kept && !kept->follows.empty()) choose(chosen_file_);
        return;
    }
    mark_accepted(asked->file.toStdString(), asked->own);
    read_folder();
    if (!asked->to_choose.isEmpty()) choose(asked->to_choose);
}

bool Tickets::import(const QString& file) {
    if (!file.endsWith(".json", Qt::CaseInsensitive)) return false;
    const auto read = [this](const Result<Ticket>& ticket) {
        ticket ? ask_about({*ticket, {}}) : messages_.complain(ticket.error());
    };
    apart(
        this, "reading a ticket", [file] { return load_ticket(file.toStdString()); }, read,
        patience_with(file.toStdString()));
    return true;
}

}
