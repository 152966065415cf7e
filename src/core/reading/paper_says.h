// What a paper says of itself: its own date, who sent it, what it is, its number, its heading, what is to be paid.
#pragma once

#include "core/reading/paper_words.h"
#include "core/reading/tables.h"

#include <chrono>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace yelvin {

struct PaperFact {
    std::string value;           // UTF-8
    double sure = 0;             // 0 to 1; from 0.9 on it is as good as certain
    std::string reason;          // for people: beside "Invoice date"
    std::vector<LineWord> place; // the words of the page's layer that say it; may be none
    size_t page = 0;             // of those that were given
    bool operator==(const PaperFact& other) const { return value == other.value && page == other.page; }
};

struct PaperSays {
    std::optional<PaperFact> date;   // ISO 8601, such as 2026-03-04
    std::optional<PaperFact> sender; // never the addressee
    std::optional<PaperFact> kind;   // by the name that PaperWords has for it
    std::optional<PaperFact> number;
    std::optional<PaperFact> heading;
    std::optional<PaperFact> total; // with two decimals and its currency, where it is named: "1022.16 GBP"
    bool operator==(const PaperSays&) const = default;
};

// Paragraphs that are left out count too: letterheads are. `today` is when it was scanned: a date far behind it is
// hardly the paper's own. A pure function.
PaperSays what_paper_says(const PageText& text, const PaperWords& words, std::chrono::year_month_day today);

// Of a document: what its first page says, and what only later ones do. At most the first pages_that_say and the last
// page are looked at.
inline constexpr size_t pages_that_say = 3;
PaperSays what_papers_say(std::span<const PageText> pages, const PaperWords& words, std::chrono::year_month_day today);

}
