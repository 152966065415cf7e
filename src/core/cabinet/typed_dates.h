// Parsing dates as people type them in a search: "last March", "2026", "March 2026", "12 March", "yesterday", in
// English, German, French and Dutch. A pure function.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// A range of days, including both.
struct DateSpan {
    std::chrono::sys_days from{}, to{};
    bool has(std::chrono::sys_days day) const { return from <= day && day <= to; }
    bool operator==(const DateSpan&) const = default;
};

struct TypedDate {
    size_t count = 0; // number of words
    DateSpan span;
    bool or_words = false; // may also be meant as words of the document, such as "2026"
};

// Returns the longest date that begins at word `at`, or nullopt. Weeks begin on Monday (ISO 8601-1, 3.1.1.8), spring in
// March.
std::optional<TypedDate> typed_date(const std::vector<std::string>& words, size_t at,
                                    std::chrono::year_month_day today);

}
