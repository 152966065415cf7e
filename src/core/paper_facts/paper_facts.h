// Reading the facts of a document from its text: date, sender, kind, number, heading, total. Pure functions.
#pragma once

#include "core/paper_facts/paper_words.h"
#include "core/text/tables.h"

#include <chrono>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace yelvin {

struct PaperFact {
    std::string value;           // UTF-8
    double sure = 0;             // certainty, 0 to 1; from 0.9 on practically certain
    std::string reason;          // shown to the user: beside "Invoice date"
    std::vector<LineWord> place; // its words in the page's layer; may be empty
    size_t page = 0;             // index of the page
    bool operator==(const PaperFact& other) const { return value == other.value && page == other.page; }
};

struct PaperFacts {
    std::optional<PaperFact> date;   // ISO 8601, such as 2026-03-04
    std::optional<PaperFact> sender; // never the addressee
    std::optional<PaperFact> kind;   // the name that PaperWords has for it
    std::optional<PaperFact> number;
    std::optional<PaperFact> heading;
    std::optional<PaperFact> total; // with two decimals and the currency if it is stated: "1022.16 GBP"
    bool operator==(const PaperFacts&) const = default;
};

// Reads the facts of one page. Paragraphs that are left out count, because letterheads often are. `today` is the day of
// scanning: a much later date is hardly the document's own.
PaperFacts facts_of_page(const PageText& text, const PaperWords& words, std::chrono::year_month_day today);

// Reads the facts of a document: those of its first page, completed by later ones. Uses at most the first
// pages_with_facts pages and the last one.
inline constexpr size_t pages_with_facts = 3;
PaperFacts facts_of_document(std::span<const PageText> pages, const PaperWords& words,
                             std::chrono::year_month_day today);

}
