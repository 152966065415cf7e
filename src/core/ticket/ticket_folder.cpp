#include "core/ticket/ticket_folder.h"

#include "core/naming/file_name.h"
#include "core/private_files.h"
#include "core/saving/safe_file.h"
#include "core/ticket/ticket_json.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <string_view>
#include <unistd.h>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin {

namespace {

// Whether nobody may write to the file, or not this user.
bool may_write(const fs::path& file) {
    std::error_code error;
    constexpr auto any = fs::perms::owner_write | fs::perms::group_write | fs::perms::others_write;
    const bool somebody = (fs::status(file, error).permissions() & any) != fs::perms::none;
    return !error && somebody && ::access(file.c_str(), W_OK) == 0;
}

enum class Half { Scanning, Putting };

// Gives each ticket the halves that it takes from others. They are looked up in the contents of the files, so the order
// does not matter.
class Halves {
  public:
    explicit Halves(std::vector<KeptTicket>& tickets) : tickets_(tickets) {}

    void take(KeptTicket& kept, Half half) {
        passed_ = {&kept};
        half_ = half;
        const KeptTicket* at = &kept;
        while (!like(*at).empty()) {
            const KeptTicket* next = named(like(*at));
            if (!next) return say(kept, *at, "which is missing");
            if (std::ranges::find(passed_, next) != passed_.end()) return say(kept, *at, "which refers back to it");
            passed_.push_back(next);
            at = next;
        }
        if (at == &kept) return;
        half == Half::Scanning ? kept.ticket.take_scanning_of(at->own) : kept.ticket.take_putting_of(at->own);
        for (const KeptTicket* each : passed_)
            if (each != &kept) kept.follows.push_back(each->file);
    }

  private:
    std::vector<KeptTicket>& tickets_;
    std::vector<const KeptTicket*> passed_;
    Half half_ = Half::Scanning;

    const std::string& like(const KeptTicket& kept) const {
        return half_ == Half::Scanning ? kept.own.scan_like : kept.own.put_like;
    }
    const KeptTicket* named(const std::string& name) const {
        const auto at = std::ranges::find(tickets_, name, [](const KeptTicket& kept) { return kept.own.name; });
        return at == tickets_.end() ? nullptr : &*at;
    }
    void say(KeptTicket& kept, const KeptTicket& at, std::string_view why) const {
        kept.trouble +=
            fmt::format("{}{} takes {} from {}, {}; it is used as last saved.", kept.trouble.empty() ? "" : " ",
                        at.own.name, half_ == Half::Scanning ? "how it scans" : "what it makes", like(at), why);
    }
};

KeptTicket kept_in(const fs::path& file, const Ticket& ticket) {
    return {file, ticket, ticket, {}, {}, may_write(file)};
}

void take_halves(std::vector<KeptTicket>& tickets) {
    Halves halves(tickets);
    for (KeptTicket& kept : tickets) {
        halves.take(kept, Half::Scanning);
        halves.take(kept, Half::Putting);
    }
}

}

TicketFolder read_tickets(const fs::path& folder) {
    TicketFolder out;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder, error)) {
        if (entry.path().extension() != ".json" || !entry.is_regular_file(error)) continue;
        if (auto ticket = load_ticket(entry.path()))
            out.tickets.push_back(kept_in(entry.path(), *ticket));
        else
            out.damaged.push_back({entry.path(), ticket.error()}); // the file itself is left as it is
    }
    std::ranges::sort(out.tickets, {}, [](const KeptTicket& kept) { return std::pair(kept.ticket.name, kept.file); });
    take_halves(out.tickets);
    std::ranges::sort(out.damaged, {}, &DamagedTicket::file);
    return out;
}

Result<KeptTicket> load_with_halves(const fs::path& file) {
    const auto ticket = load_ticket(file);
    if (!ticket) return std::unexpected(ticket.error());
    std::vector<KeptTicket> tickets{kept_in(file, *ticket)}; // whatever its extension
    if (ticket->scan_like.empty() && ticket->put_like.empty()) return std::move(tickets.front());
    for (KeptTicket& other : read_tickets(fs::absolute(file).parent_path()).tickets) {
        std::error_code error;
        if (!fs::equivalent(other.file, file, error)) tickets.push_back(std::move(other));
    }
    take_halves(tickets);
    return std::move(tickets.front());
}

std::vector<Ticket> first_tickets() {
    using Kind = NamePart::Kind;
    const auto named = [](const char* words) {
        return std::vector<NamePart>{{Kind::Date, "yyyy-mm-dd"}, {Kind::Words, words}, {Kind::Counter, "", 3}};
    };
    Ticket everyday;

    Ticket photographs;
    photographs.name = "Photographs";
    photographs.colour = "amber";
    photographs.how.ink = Ink::Colour;
    photographs.how.dpi = 600;
    photographs.pages.turn_upright = false;
    photographs.pages.documents = Documents::EachItem;
    photographs.read.languages.clear();
    photographs.make = {Format::Jpeg, Per::Page, 92};
    photographs.save.folder = "~/Pictures";
    photographs.save.name = named("Photograph");

    Ticket receipts;
    receipts.name = "Receipts";
    receipts.colour = "moss";
    receipts.how.ink = Ink::Grey;
    receipts.pages.documents = Documents::EachItem;
    receipts.save.name = named("Receipt");

    Ticket archive;
    archive.name = "Archive";
    archive.colour = "ink";
    archive.how.ink = std::nullopt;
    archive.how.dpi = 600;
    archive.make = {Format::Tiff, Per::Document, 95};
    archive.save.name = named("Archive");
    return {everyday, photographs, receipts, archive};
}

Result<fs::path> keep_ticket(const fs::path& folder, const Ticket& ticket, const fs::path& file) {
    make_private_folder(folder);
    const std::string text = ticket_to_json(ticket).dump(2) + "\n";
    const auto write = [&](const fs::path& growing) {
        make_private_file(growing);
        return write_bytes(growing, text);
    };
    if (!file.empty()) {
        if (auto replaced = replace_file(file, text); !replaced) return std::unexpected(replaced.error());
        return file;
    }
    const std::string stem = cleaned_name(ticket.name);
    const auto saved = save_file(
        folder, [&](int attempt) { return numbered_name(stem, attempt) + ".json"; }, write);
    if (!saved) return std::unexpected(saved.error());
    return saved->path;
}

std::string free_ticket_name(const TicketFolder& folder, const std::string& name) {
    const auto taken = [&](const std::string& wanted) {
        return std::ranges::any_of(folder.tickets, [&](const KeptTicket& kept) { return kept.ticket.name == wanted; });
    };
    if (!taken(name)) return name;
    int number = 2;
    while (taken(fmt::format("{} {}", name, number))) ++number;
    return fmt::format("{} {}", name, number);
}

std::vector<std::string> changed_choices(const Ticket& before, const Ticket& now) {
    if (before.same_choices(now)) return {};
    const json a = ticket_to_json(before), b = ticket_to_json(now);
    std::set<std::string> keys;
    if (before.scan_like != now.scan_like) keys.insert("scan_like");
    if (before.put_like != now.put_like) keys.insert("put_like");
    const auto compare = [&](const json& one, const json& other) {
        for (const auto& [group, values] : one.items()) {
            if (!values.is_object()) continue; // the name, the colour, the version
            const json there = other.value(group, json::object());
            for (const auto& [key, value] : values.items())
                if (!there.contains(key) || there[key] != value) keys.insert(fmt::format("{}.{}", group, key));
        }
    };
    compare(a, b);
    compare(b, a);
    return {keys.begin(), keys.end()};
}

}
