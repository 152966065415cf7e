// Dates as people write them, in words or digits.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

enum class DateOrder { Open, DayFirst, MonthFirst };

struct WrittenDate {
    size_t first = 0, count = 0; // of the words
    std::chrono::year_month_day date;
    // What it is with day and month the other way round, where both can be.
    std::optional<std::chrono::year_month_day> or_else;
    DateOrder shows = DateOrder::Open; // which comes first, where that can be told from it alone
    bool in_words = false;             // its month is
};

// All in the words of one line; ambiguous ones with the day first. Names of months in these languages (Tesseract's
// names, or BCP 47) by CLDR, and in English. Years of two digits are of 1950 to 2049.
std::vector<WrittenDate> dates_in(const std::vector<std::string>& words, const std::vector<std::string>& languages);

// Which comes first in dates of digits in the language, by CLDR; Open for English, which has both.
DateOrder usual_order(const std::string& language);

std::string iso_date(std::chrono::year_month_day date); // ISO 8601-1, 5.2.2.1: 2026-03-04
std::optional<std::chrono::year_month_day> date_of_iso(const std::string& text);

}
