#include "core/ticket/ticket_folder.h"

#include "core/private_files.h"
#include "core/saving/file_name.h"
#include "core/saving/safe_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin {

TicketFolder read_tickets(const fs::path& folder) {
    TicketFolder out;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder, error)) {
        if (entry.path().extension() != ".json" || !entry.is_regular_file(error)) continue;
        if (auto ticket = load_ticket(entry.path()))
            out.tickets.push_back({entry.path(), std::move(*ticket)});
        else
            out.damaged.push_back({entry.path(), ticket.error()}); // the file itself is left as it is
    }
    std::ranges::sort(out.tickets, {}, [](const KeptTicket& kept) { return std::pair(kept.ticket.name, kept.file); });
    std::ranges::sort(out.damaged, {}, &DamagedTicket::file);
    return out;
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
    photographs.read.languages.clear();
    photographs.make = {Format::Jpeg, Per::Page, 92};
    photographs.save.folder = "~/Pictures";
    photographs.save.name = named("Photograph");

    Ticket receipts;
    receipts.name = "Receipts";
    receipts.colour = "moss";
    receipts.how.ink = Ink::Grey;
    receipts.make.per = Per::Page;
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
