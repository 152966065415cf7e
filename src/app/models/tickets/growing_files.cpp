#include "app/models/tickets/growing_files.h"

#include "app/models/window/last_choices.h"
#include "core/naming/file_name.h"

#include <fmt/format.h>

namespace yelvin {

namespace fs = std::filesystem;

namespace {

constexpr const char* files_kept_as = "growing files"; // ticket: its file, and the day on which that was begun
using AllKept = std::map<std::string, std::pair<std::string, std::string>>;

std::string day_of_today() {
    const auto day = today();
    return fmt::format("{:04}-{:02}-{:02}", int(day.year()), unsigned(day.month()), unsigned(day.day()));
}

// Whether pages are still added today to a file that was begun on that day.
bool still_grows(Ticket::Save::Grows grows, const std::string& begun) {
    constexpr size_t month_letters = 7; // yyyy-mm
    switch (grows) {
    case Ticket::Save::Grows::Always:
        return true;
    case Ticket::Save::Grows::Day:
        return begun == day_of_today();
    case Ticket::Save::Grows::Month:
        return begun.substr(0, month_letters) == day_of_today().substr(0, month_letters);
    case Ticket::Save::Grows::No:
        break;
    }
    return false;
}

bool lies_in(const fs::path& file, const fs::path& folder) {
    const fs::path within = file.lexically_relative(folder);
    return !within.empty() && *within.begin() != "..";
}

}

GrowingFiles::GrowingFiles(LastChoices& last, QObject* parent) : QObject(parent), last_(last) {}

GrowingFiles::Kept GrowingFiles::kept(const Ticket& ticket) const {
    const auto all = last_.get<AllKept>(files_kept_as, {});
    const auto at = all.find(ticket.name);
    return at == all.end() ? Kept{} : Kept{at->second.first, at->second.second};
}

void GrowingFiles::keep(const std::string& ticket, const Kept& kept) {
    auto all = last_.get<AllKept>(files_kept_as, {});
    all[ticket] = {kept.file.string(), kept.begun};
    if (kept.file.empty()) all.erase(ticket);
    last_.set(files_kept_as, all);
    last_.keep_now();
    emit changed();
}

fs::path GrowingFiles::current(const Ticket& ticket) const {
    if (!adds_to_file(ticket)) return {};
    const Kept now = kept(ticket);
    const bool grows = still_grows(ticket.save.grows, now.begun);
    const bool there =
        ticket.save.where != Ticket::Save::Where::Fixed || lies_in(now.file, expanded_folder(ticket.save.folder));
    return grows && there ? now.file : fs::path();
}

QString GrowingFiles::until(const Ticket& ticket) {
    switch (ticket.save.grows) {
    case Ticket::Save::Grows::Day:
        return tr("today");
    case Ticket::Save::Grows::Month:
        return tr("this month");
    case Ticket::Save::Grows::Always:
    case Ticket::Save::Grows::No:
        break;
    }
    return tr("until you start another");
}

std::shared_ptr<fs::path> GrowingFiles::for_saving(const Ticket& ticket, const fs::path& folder) {
    const auto at = in_use_.find(ticket.name);
    if (at != in_use_.end() && at->second.folder == folder && still_grows(ticket.save.grows, at->second.begun))
        return at->second.file;
    const Kept before = kept(ticket);
    const bool goes_on = still_grows(ticket.save.grows, before.begun) && lies_in(before.file, folder);
    InUse now{std::make_shared<fs::path>(goes_on ? before.file : fs::path()), folder,
              goes_on ? before.begun : day_of_today()};
    in_use_.insert_or_assign(ticket.name, now);
    return now.file;
}

// A file that was ended while a document was being saved to it remains ended.
void GrowingFiles::note_saved(const Ticket& ticket, const fs::path& file) {
    const auto at = in_use_.find(ticket.name);
    if (at != in_use_.end() && kept(ticket).file != file) keep(ticket.name, {file, at->second.begun});
}

void GrowingFiles::moved(const fs::path& from, const fs::path& to) {
    for (const auto& [ticket, kept] : last_.get<AllKept>(files_kept_as, {})) {
        if (fs::path(kept.first) != from) continue;
        in_use_.erase(ticket);
        keep(ticket, {to, kept.second});
    }
}

void GrowingFiles::end(const Ticket& ticket) {
    in_use_.erase(ticket.name);
    keep(ticket.name, {});
}

}
