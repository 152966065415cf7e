#include "app/models/tickets/tickets.h"

#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "core/naming/file_name.h"
#include "core/ticket/ticket_json.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <fmt/ranges.h>

#include <algorithm>
#include <map>

namespace yelvin {

Tickets::Tickets(Messages& messages, LastChoices& last, const QString& settings_folder, QObject* parent)
    : QObject(parent), messages_(messages), last_(last), tickets_folder_(settings_folder + "/tickets"),
      chosen_file_(QString::fromStdString(last.get("ticket_file", std::string()))) {
    const bool ran_before = !last.get("ticket").is_null();
    if (auto kept = ticket_from_json(last.get("ticket", nlohmann::json::object()))) ticket_ = std::move(*kept);
    if (!QDir(tickets_folder_).exists()) make_first_ones();
    read_folder();
    if (ran_before) accept_those_in_use();
    catch_up_at_start();
}

// While the program was not running, a ticket may have changed that this one takes a half from.
void Tickets::catch_up_at_start() {
    const KeptTicket* kept = chosen();
    if (!kept || !is_accepted(*kept)) return;
    const Ticket before = ticket_;
    if (kept->own.back.on_close) ticket_ = kept->ticket;
    if (before.scans_same(kept->own)) ticket_.take_scanning_of(kept->ticket);
    if (before.puts_same(kept->own)) ticket_.take_putting_of(kept->ticket);
    compare_with_kept();
    if (!ticket_.same_choices(before)) remember();
}

void Tickets::make_first_ones() {
    for (const Ticket& ticket : first_tickets()) {
        const auto kept = keep_ticket(tickets_folder_.toStdString(), ticket);
        // The mark is made from the file as it will be read later, which contains keys that the value in memory lacks.
        const auto written = kept ? load_ticket(*kept) : Result<Ticket>(ticket);
        if (kept && written) mark_accepted(*kept, *written);
        if (kept && chosen_file_.isEmpty() && ticket.name == ticket_.name)
            chosen_file_ = QString::fromStdString(kept->string());
    }
}

void Tickets::remember() {
    last_.set("ticket", ticket_to_json(ticket_));
    last_.set("ticket_file", chosen_file_.toStdString());
}

void Tickets::set(const Ticket& ticket) {
    ticket_ = ticket;
    compare_with_kept();
    remember();
    emit changed();
}

QString Tickets::folder() const { return QString::fromStdString(expanded_folder(ticket_.save.folder).string()); }

std::string Tickets::languages() const {
    return fmt::format("{}", fmt::join(languages_for(ticket_, ticket_.read.languages), "+"));
}

// ---- saved tickets

void Tickets::read_folder() {
    kept_ = read_tickets(tickets_folder_.toStdString());
    compare_with_kept();
}

const KeptTicket* Tickets::kept_at(const QString& file) const {
    const auto at = std::ranges::find(kept_.tickets, std::filesystem::path(file.toStdString()), &KeptTicket::file);
    return at == kept_.tickets.end() ? nullptr : &*at;
}

const KeptTicket* Tickets::kept_named(const std::string& name) const {
    const auto at = std::ranges::find(kept_.tickets, name, [](const KeptTicket& kept) { return kept.own.name; });
    return at == kept_.tickets.end() ? nullptr : &*at;
}

const KeptTicket* Tickets::chosen() const { return kept_at(chosen_file_); }

std::optional<Ticket> Tickets::as_kept() const {
    const KeptTicket* kept = chosen();
    return kept ? std::optional(kept->ticket) : std::nullopt;
}

bool Tickets::may_change(const KeptTicket& kept) {
    if (kept.may_change()) return true;
    const QString name = QString::fromStdString(kept.own.name);
    messages_.complain(
        kept.own.fixed
            ? tr("The ticket %1 is fixed and was not changed; save the choices as a new ticket.").arg(name)
            : tr("The file of the ticket %1 is read-only and was not changed; save the choices as a new ticket.")
                  .arg(name));
    return false;
}

// Done once per change, not each time the result is shown.
void Tickets::compare_with_kept() {
    const auto kept = as_kept();
    is_kept_ = kept.has_value();
    changed_keys_ = kept ? changed_choices(*kept, ticket_) : std::vector<std::string>{};
}

void Tickets::write(const Ticket& ticket, const QString& file, Whose whose) {
    const auto kept = keep_ticket(tickets_folder_.toStdString(), ticket, file.toStdString());
    if (!kept) messages_.complain(kept.error());
    if (kept && whose == Whose::ThisPersons) {
        // Read again, because the file may contain keys that this version does not know.
        const auto written = load_ticket(*kept);
        mark_accepted(*kept, written ? *written : ticket);
    }
    if (kept && file.isEmpty()) chosen_file_ = QString::fromStdString(kept->string());
    read_folder();
}

bool Tickets::choose(const QString& file) {
    const auto ticket = accepted(file, true);
    if (!ticket) return false;
    if (std::exchange(chosen_file_, file) != file) emit another_chosen();
    if (const KeptTicket* kept = chosen()) {
        if (!kept->trouble.empty()) messages_.complain(QString::fromStdString(kept->trouble));
        note_last_known(*kept);
    }
    set(*ticket);
    return true;
}

// Writes the current values of a half that is taken from another ticket into the file, so that they remain if the other
// ticket is removed.
void Tickets::note_last_known(const KeptTicket& kept) {
    if (kept.own.same_choices(kept.ticket) || !kept.may_change()) return;
    write(Ticket(kept.ticket), QString::fromStdString(kept.file.string()));
}

// Removes the link to another ticket's half if the half was changed here since.
Ticket Tickets::with_links_that_hold(Ticket ticket) const {
    const KeptTicket* scanning = kept_named(ticket.scan_like);
    if (scanning && !scanning->ticket.scans_same(ticket)) ticket.scan_like.clear();
    const KeptTicket* putting = kept_named(ticket.put_like);
    if (putting && !putting->ticket.puts_same(ticket)) ticket.put_like.clear();
    return ticket;
}

void Tickets::take_half(Half half, const QString& file) {
    Ticket ticket = ticket_;
    auto& like = half == Half::Scanning ? ticket.scan_like : ticket.put_like;
    like.clear();
    if (!file.isEmpty()) {
        const auto other = accepted(file);
        if (!other) return;
        half == Half::Scanning ? ticket.take_scanning_of(*other) : ticket.take_putting_of(*other);
        if (file != chosen_file_) like = other->name;
    }
    set(ticket);
}

void Tickets::set_fixed(bool fixed) {
    const KeptTicket* kept = chosen();
    if (!kept || kept->own.fixed == fixed) return;
    if (!kept->may_write) return void(may_change(*kept));
    change_kept(chosen_file_, [fixed](Ticket& ticket) { ticket.fixed = fixed; });
    Ticket ticket = ticket_;
    ticket.fixed = fixed;
    set(ticket);
}

void Tickets::set_back(const Ticket::Back& back) {
    const KeptTicket* kept = chosen();
    if (!kept || !may_change(*kept)) return;
    change_kept(chosen_file_, [&back](Ticket& ticket) { ticket.back = back; });
    Ticket ticket = ticket_;
    ticket.back = back;
    set(ticket);
}

void Tickets::go_back() {
    read_folder();
    const KeptTicket* kept = chosen();
    if (!kept || changed_keys_.empty() || !is_accepted(*kept)) return;
    emit another_chosen();
    set(Ticket(kept->ticket));
}

QStringList Tickets::buttons() const {
    QStringList files;
    for (const std::string& file : last_.get<std::vector<std::string>>("ticket buttons", {})) {
        const auto is = [&](const KeptTicket& kept) { return kept.file.string() == file; };
        if (std::ranges::any_of(kept_.tickets, is)) files.append(QString::fromStdString(file));
    }
    return files;
}

void Tickets::set_button(const QString& file, bool is) {
    QStringList files = buttons();
    if (files.contains(file) == is) return;
    if (is && files.size() >= most_buttons)
        return messages_.complain(
            tr("There are already %1 buttons; remove one in its ticket's sheet first.").arg(most_buttons));
    if (is)
        files.append(file);
    else
        files.removeAll(file);
    std::vector<std::string> kept;
    for (const QString& each : files) kept.push_back(each.toStdString());
    last_.set("ticket buttons", kept);
    emit changed();
}

namespace {
constexpr const char* scanner_buttons = "scanner buttons";
using ScannerButtons = std::map<std::string, std::map<std::string, std::string>>; // scanner, button: ticket's file
}

QString Tickets::of_scanner_button(const QString& scanner, const QString& button) const {
    auto buttons = last_.get<ScannerButtons>(scanner_buttons, {});
    const std::string file = buttons[scanner.toStdString()][button.toStdString()];
    const auto is = [&](const KeptTicket& kept) { return kept.file.string() == file; };
    return std::ranges::any_of(kept_.tickets, is) ? QString::fromStdString(file) : QString();
}

QString Tickets::scanner_button_of(const QString& scanner, const QString& file) const {
    auto buttons = last_.get<ScannerButtons>(scanner_buttons, {});
    for (const auto& [button, starts] : buttons[scanner.toStdString()])
        if (QString::fromStdString(starts) == file) return QString::fromStdString(button);
    return {};
}

void Tickets::set_scanner_button(const QString& scanner, const QString& button, const QString& file) {
    auto buttons = last_.get<ScannerButtons>(scanner_buttons, {});
    auto& those = buttons[scanner.toStdString()];
    std::erase_if(those, [&](const auto& each) { return QString::fromStdString(each.second) == file; });
    if (!button.isEmpty()) those[button.toStdString()] = file.toStdString();
    last_.set(scanner_buttons, buttons);
    emit changed();
}

bool Tickets::choose_named(const QString& name) {
    read_folder();
    for (const KeptTicket& kept : kept_.tickets) {
        if (QString::fromStdString(kept.ticket.name).compare(name, Qt::CaseInsensitive) != 0) continue;
        return choose(QString::fromStdString(kept.file.string()));
    }
    messages_.complain(tr("There is no ticket named %1; the choices were not changed.").arg(name));
    return false;
}

void Tickets::keep() {
    if (const KeptTicket* kept = chosen(); kept && !may_change(*kept)) return;
    const Ticket ticket = with_links_that_hold(ticket_);
    write(ticket, is_kept_ ? chosen_file_ : QString());
    set(ticket);
}

void Tickets::keep_as(const QString& name) {
    Ticket ticket = with_links_that_hold(ticket_);
    ticket.fixed = false;
    ticket.name = free_ticket_name(kept_, name.trimmed().toStdString());
    write(ticket, {});
    set(ticket);
}

void Tickets::change_kept(const QString& file, const std::function<void(Ticket&)>& change) {
    const KeptTicket* at = kept_at(file);
    if (!at) return;
    const Whose whose = is_accepted(*at) ? Whose::ThisPersons : Whose::Unknown;
    Ticket ticket = at->own;
    change(ticket);
    write(ticket, file, whose);
}

void Tickets::rename(const QString& name) {
    if (name.trimmed().isEmpty()) return;
    if (const KeptTicket* kept = chosen(); kept && !may_change(*kept)) return;
    const std::string before = ticket_.name, now = name.trimmed().toStdString();
    const auto named = [&](Ticket& ticket) { ticket.name = now; };
    change_kept(chosen_file_, named);
    // Tickets that take a half from this one refer to it by its new name.
    std::vector<QString> takers;
    for (const KeptTicket& kept : kept_.tickets)
        if (kept.may_change() && (kept.own.scan_like == before || kept.own.put_like == before))
            takers.push_back(QString::fromStdString(kept.file.string()));
    for (const QString& file : takers)
        change_kept(file, [&](Ticket& ticket) {
            for (std::string* like : {&ticket.scan_like, &ticket.put_like})
                if (*like == before) *like = now;
        });
    Ticket ticket = ticket_;
    named(ticket);
    set(ticket);
}

void Tickets::recolour(const QString& role) {
    if (const KeptTicket* kept = chosen(); kept && !may_change(*kept)) return;
    const auto coloured = [&](Ticket& ticket) { ticket.colour = role.toStdString(); };
    change_kept(chosen_file_, coloured);
    Ticket ticket = ticket_;
    coloured(ticket);
    set(ticket);
}

void Tickets::restore() { choose(chosen_file_); }

// ---- removing, restoring and importing

void Tickets::remove(const QString& file) {
    const KeptTicket* kept = kept_at(file);
    if (!kept || !may_change(*kept)) return;
    if (QFile::remove(file)) {
        removed_.push_back({kept->own, kept->file, is_accepted(*kept)});
        messages_.tell(tr("The ticket %1 was removed; you can bring it back in the list of tickets.")
                           .arg(QString::fromStdString(kept->own.name)));
    } else {
        messages_.complain(
            tr("%1 cannot be removed; check your permission to write to its folder.").arg(QFileInfo(file).fileName()));
    }
    read_folder();
    // The choices in the sentence are not changed; they no longer belong to a saved ticket.
    remember();
    emit changed();
}

QStringList Tickets::removed() const {
    QStringList names;
    for (const Removed& removed : removed_) names.prepend(QString::fromStdString(removed.ticket.name));
    return names;
}

void Tickets::bring_back(const QString& name) {
    const auto at = std::ranges::find(removed_, name.toStdString(), [](const Removed& r) { return r.ticket.name; });
    if (at == removed_.end()) return;
    const QString chosen = chosen_file_;
    const std::filesystem::path old = at->file;
    std::error_code error;
    const bool free = !std::filesystem::exists(old, error);
    write(at->ticket, free ? QString::fromStdString(old.string()) : QString(),
          at->accepted ? Whose::ThisPersons : Whose::Unknown);
    if (!free) chosen_file_ = chosen;
    compare_with_kept();
    removed_.erase(at);
    emit changed();
}

}
