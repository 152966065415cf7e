#include "core/naming/paper_name.h"

#include "core/paper_facts/dates_written.h"
#include "core/utf8.h"

#include <fmt/format.h>

#include <algorithm>

namespace yelvin {

namespace {

std::string value(const std::optional<PaperFact>& fact) {
    return fact && fact->sure >= certain_enough ? fact->value : std::string();
}

bool has(const std::optional<PaperFact>& fact) { return !value(fact).empty(); }

// Returns the date in the formats that occur in file names.
std::vector<std::string> ways_of_writing(std::chrono::year_month_day date) {
    const int year = static_cast<int>(date.year());
    const unsigned month = static_cast<unsigned>(date.month()), day = static_cast<unsigned>(date.day());
    return {fmt::format("{:04}-{:02}-{:02}", year, month, day), fmt::format("{:02}.{:02}.{:04}", day, month, year),
            fmt::format("{:02}-{:02}-{:04}", day, month, year), fmt::format("{:04}{:02}{:02}", year, month, day),
            fmt::format("{:02}-{:02}-{:04}", month, day, year), fmt::format("{:04}-{:02}", year, month)};
}

bool replace(std::string& text, const std::string& from, const std::string& to) {
    const size_t at = from.empty() ? std::string::npos : text.find(from);
    if (at == std::string::npos) return false;
    text.replace(at, from.size(), to);
    return true;
}

// Returns the name of the earlier document with its facts replaced by those of this one, or nothing if facts of the
// earlier document would remain in it.
std::optional<std::string> like_last_time(const SavedDocument& before, const PaperFacts& says) {
    std::string name = before.name();
    bool taken_up = false; // Whether the name contains a fact of this document.
    if (const auto old = date_of_iso(before.traits.date)) {
        const auto now = date_of_iso(value(says.date));
        const auto from = ways_of_writing(*old);
        for (size_t i = 0; i < from.size(); ++i) {
            if (!name.contains(from[i])) continue;
            if (!now) return std::nullopt;
            taken_up = replace(name, from[i], ways_of_writing(*now)[i]);
            break;
        }
    }
    const std::string cleaned = cleaned_name(before.traits.number);
    if (!before.traits.number.empty() && name.contains(cleaned)) {
        if (!has(says.number)) return std::nullopt;
        taken_up = replace(name, cleaned, cleaned_name(value(says.number))) || taken_up;
    }
    const std::string heading = before.traits.heading.empty() ? std::string() : cleaned_name(before.traits.heading);
    if (heading.size() > 4 && name.contains(heading) && before.traits.heading != value(says.heading)) {
        if (!has(says.heading)) return std::nullopt;
        taken_up = replace(name, heading, cleaned_name(value(says.heading))) || taken_up;
    }
    // Otherwise only a number would distinguish the names, which the ticket does already.
    if (!taken_up) return std::nullopt;
    return cleaned_name(name);
}

class Proposals {
  public:
    Proposals(const PaperFacts& says, std::chrono::year_month_day scanned) : says_(says), scanned_(scanned) {}

    void like_before(const std::vector<SimilarDocument>& alike) {
        const auto where = folder_of_similar(alike);
        if (!where) return;
        const auto last =
            std::ranges::find(alike, where->folder, [](const SimilarDocument& each) { return each.paper.folder(); });
        auto name = like_last_time(last->paper, says_);
        std::vector<PaperFact> facts;
        if (!name) {
            name = by_facts(facts);
            if (name->empty()) name = last->paper.name();
        } else {
            for (const auto& fact : {says_.date, says_.number})
                if (has(fact)) facts.push_back(*fact);
        }
        const std::string in = std::filesystem::path(where->folder).filename().string();
        const std::string reason = where->ids.size() == 1
                                       ? fmt::format("like “{}” in {}", last->paper.name(), in)
                                       : fmt::format("like {} others in {}", number_word(where->ids.size()), in);
        add({*name, where->folder, reason, facts, where->ids});
    }

    void facts() {
        std::vector<PaperFact> used;
        const std::string name = by_facts(used);
        std::string reason;
        for (const auto& [fact, word] : {std::pair{&says_.date, "date"},
                                         {&says_.sender, "sender"},
                                         {&says_.kind, "kind"},
                                         {&says_.number, "number"}})
            if (has(*fact)) reason += (reason.empty() ? "its " : ", ") + std::string(word);
        if (!used.empty()) add({name, "", reason, used, {}});
    }

    void heading() {
        if (!has(says_.heading)) return;
        std::string name = has(says_.date) ? value(says_.date) : iso_date(scanned_);
        std::vector<PaperFact> used{*says_.heading};
        if (has(says_.date)) used.push_back(*says_.date);
        add({cleaned_name(name + " " + value(says_.heading)), "", "the heading", used, {}});
    }

    std::vector<NameProposal> all() && { return std::move(all_); }

  private:
    const PaperFacts& says_;
    std::chrono::year_month_day scanned_;
    std::vector<NameProposal> all_;

    static std::string number_word(size_t count) {
        constexpr const char* words[] = {"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"};
        return count < std::size(words) ? words[count] : std::to_string(count);
    }

    std::string by_facts(std::vector<PaperFact>& used) const {
        std::string name;
        for (const auto* fact : {&says_.date, &says_.sender, &says_.kind, &says_.number}) {
            if (!has(*fact)) continue;
            const bool is_kind = fact == &says_.kind;
            name += (name.empty() ? "" : " ") + (is_kind ? capitalised(value(*fact)) : value(*fact));
            used.push_back(**fact);
        }
        return name.empty() ? name : cleaned_name(name);
    }

    void add(NameProposal proposal) {
        constexpr size_t most = 3;
        const bool known = std::ranges::any_of(all_, [&](const NameProposal& each) {
            return each.name == proposal.name && (each.folder == proposal.folder || proposal.folder.empty());
        });
        if (!known && all_.size() < most && !proposal.name.empty()) all_.push_back(std::move(proposal));
    }
};

}

NameValues name_values(const PaperFacts& says, const std::string& barcode, const std::string& ticket) {
    return {barcode,
            ticket,
            value(says.heading),
            value(says.sender),
            value(says.kind),
            value(says.number),
            date_of_iso(value(says.date))};
}

std::vector<NameProposal> name_proposals(const PaperFacts& says, const std::vector<SimilarDocument>& alike,
                                         std::chrono::year_month_day scanned) {
    Proposals proposals(says, scanned);
    proposals.like_before(alike);
    proposals.facts();
    proposals.heading();
    return std::move(proposals).all();
}

}
