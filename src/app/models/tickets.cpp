#include "app/models/tickets.h"

#include "app/models/apart.h"
#include "app/models/last_choices.h"
#include "app/models/messages.h"
#include "core/saving/file_name.h"
#include "core/ticket/ticket_json.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <fmt/ranges.h>

#include <algorithm>
#include <map>

namespace yelvin {

namespace {
constexpr const char* accepted_tickets = "accepted tickets"; // file: the mark of its contents
}

Tickets::Tickets(Messages& messages, LastChoices& last, const QString& settings_folder, QObject* parent)
    : QObject(parent), messages_(messages), last_(last), tickets_folder_(settings_folder + "/tickets"),
      chosen_file_(QString::fromStdString(last.get("ticket_file", std::string()))) {
    const bool ran_before = !last.get("ticket").is_null();
    if (auto kept = ticket_from_json(last.get("ticket", nlohmann::json::object()))) ticket_ = std::move(*kept);
    if (!QDir(tickets_folder_).exists()) make_first_ones();
    read_folder();
    // What an earlier version had in use, which kept no marks.
    if (ran_before && last_.get(accepted_tickets).is_null())
        for (const KeptTicket& kept : kept_.tickets) mark_accepted(kept.file, kept.ticket);
}

// ---- tickets from elsewhere

namespace {
std::string mark_of_ticket(const Ticket& ticket) {
    const std::string text = ticket_to_json(ticket).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
    return QCryptographicHash::hash(QByteArray::fromStdString(text), QCryptographicHash::Sha256).toHex().toStdString();
}
}

bool Tickets::is_accepted(const KeptTicket& kept) const {
    const auto marks = last_.get<std::map<std::string, std::string>>(accepted_tickets, {});
    const auto at = marks.find(kept.file.string());
    return at != marks.end() && at->second == mark_of_ticket(kept.ticket);
}

void Tickets::mark_accepted(const std::filesystem::path& file, const Ticket& ticket) {
    auto marks = last_.get<std::map<std::string, std::string>>(accepted_tickets, {});
    marks[file.string()] = mark_of_ticket(ticket);
    last_.set(accepted_tickets, marks);
}

void Tickets::ask_about(const Ticket& ticket, const QString& file) {
    asked_ = Asked{ticket, file};
    emit acceptance_wanted();
}

void Tickets::refuse_asked() {
    asked_.reset();
    emit acceptance_wanted();
}

// The file may have been changed once more since it was shown: what was shown is what is accepted.
void Tickets::accept_asked() {
    auto asked = std::exchange(asked_, {});
    emit acceptance_wanted();
    if (!asked) return;
    if (asked->file.isEmpty()) {
        asked->ticket.name = free_ticket_name(kept_, asked->ticket.name);
        write(asked->ticket, {});
        emit another_chosen();
        return set(asked->ticket);
    }
    mark_accepted(asked->file.toStdString(), asked->ticket);
    read_folder();
    choose(asked->file);
}

void Tickets::make_first_ones() {
    for (const Ticket& ticket : first_tickets()) {
        const auto kept = keep_ticket(tickets_folder_.toStdString(), ticket);
        // The file as it is read later on, which has keys that the value in memory has not.
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

// ---- the kept ones

void Tickets::read_folder() {
    kept_ = read_tickets(tickets_folder_.toStdString());
    compare_with_kept();
}

std::optional<Ticket> Tickets::as_kept() const {
    for (const KeptTicket& kept : kept_.tickets) {
        if (QString::fromStdString(kept.file.string()) == chosen_file_) return kept.ticket;
    }
    return std::nullopt;
}

// Once for every change, not for every time it is shown.
void Tickets::compare_with_kept() {
    const auto kept = as_kept();
    is_kept_ = kept.has_value();
    changed_keys_ = kept ? changed_choices(*kept, ticket_) : std::vector<std::string>{};
}

void Tickets::write(const Ticket& ticket, const QString& file, Whose whose) {
    const auto kept = keep_ticket(tickets_folder_.toStdString(), ticket, file.toStdString());
    if (!kept) messages_.complain(kept.error());
    if (kept && whose == Whose::ThisPersons) {
        const auto written = load_ticket(*kept); // with the keys of the file that this version does not know
        mark_accepted(*kept, written ? *written : ticket);
    }
    if (kept && file.isEmpty()) chosen_file_ = QString::fromStdString(kept->string());
    read_folder();
}

std::optional<Ticket> Tickets::accepted(const QString& file) {
    read_folder(); // as the file is now
    for (const KeptTicket& kept : kept_.tickets) {
        if (QString::fromStdString(kept.file.string()) != file) continue;
        if (is_accepted(kept)) return kept.ticket;
        ask_about(kept.ticket, file);
    }
    return std::nullopt;
}

bool Tickets::choose(const QString& file) {
    const auto ticket = accepted(file);
    if (!ticket) return false;
    if (std::exchange(chosen_file_, file) != file) emit another_chosen();
    set(*ticket);
    return true;
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
            tr("There are %1 buttons already; take one away in its ticket's sheet first.").arg(most_buttons));
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
    messages_.complain(tr("There is no ticket named %1; the choices stay as they are.").arg(name));
    return false;
}

void Tickets::keep() {
    write(ticket_, is_kept_ ? chosen_file_ : QString());
    set(Ticket(ticket_));
}

void Tickets::keep_as(const QString& name) {
    Ticket ticket = ticket_;
    ticket.name = free_ticket_name(kept_, name.trimmed().toStdString());
    write(ticket, {});
    set(ticket);
}

void Tickets::change_kept(const QString& file, const std::function<void(Ticket&)>& change) {
    const auto is = [&](const KeptTicket& kept) { return QString::fromStdString(kept.file.string()) == file; };
    const auto at = std::ranges::find_if(kept_.tickets, is);
    if (at == kept_.tickets.end()) return;
    const Whose whose = is_accepted(*at) ? Whose::ThisPersons : Whose::Unknown;
    Ticket ticket = at->ticket;
    change(ticket);
    write(ticket, file, whose);
}

void Tickets::rename(const QString& name) {
    if (name.trimmed().isEmpty()) return;
    const auto named = [&](Ticket& ticket) { ticket.name = name.trimmed().toStdString(); };
    change_kept(chosen_file_, named);
    Ticket ticket = ticket_;
    named(ticket);
    set(ticket);
}

void Tickets::recolour(const QString& role) {
    const auto coloured = [&](Ticket& ticket) { ticket.colour = role.toStdString(); };
    change_kept(chosen_file_, coloured);
    Ticket ticket = ticket_;
    coloured(ticket);
    set(ticket);
}

void Tickets::restore() { choose(chosen_file_); }

// ---- removed, brought back, from elsewhere

void Tickets::remove(const QString& file) {
    for (const KeptTicket& kept : kept_.tickets) {
        if (QString::fromStdString(kept.file.string()) != file) continue;
        if (QFile::remove(file)) {
            removed_.push_back({kept.ticket, kept.file, is_accepted(kept)});
            messages_.tell(tr("The ticket %1 is removed; the list of tickets can bring it back.")
                               .arg(QString::fromStdString(kept.ticket.name)));
        } else {
            messages_.complain(
                tr("%1 cannot be removed; check who may write in its folder.").arg(QFileInfo(file).fileName()));
        }
        break;
    }
    read_folder();
    // The choices in the sentence stay as they are; they only belong to no kept ticket now.
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

bool Tickets::import(const QString& file) {
    if (!file.endsWith(".json", Qt::CaseInsensitive)) return false;
    const auto read = [this](const Result<Ticket>& ticket) {
        ticket ? ask_about(*ticket, {}) : messages_.complain(ticket.error());
    };
    apart(
        this, "reading a ticket", [file] { return load_ticket(file.toStdString()); }, read,
        patience_with(file.toStdString()));
    return true;
}

}
