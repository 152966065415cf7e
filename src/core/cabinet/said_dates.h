// Dates as people say them when they look for something: "last March", "2026", "March 2026", "12 March", "yesterday".
// In English, German, French and Dutch.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// Both days are in it.
struct DateSpan {
    std::chrono::sys_days from{}, to{};
    bool has(std::chrono::sys_days day) const { return from <= day && day <= to; }
    bool operator==(const DateSpan&) const = default;
};

struct SaidDate {
    size_t count = 0; // of the words from `at` on
    DateSpan span;
    bool or_words = false; // may be meant as words of the paper as well, such as "2026"
};

// The longest that begins at word `at`; weeks begin on Monday (ISO 8601-1, 3.1.1.8), spring in March.
std::optional<SaidDate> said_date(const std::vector<std::string>& words, size_t at, std::chrono::year_month_day today);

}
