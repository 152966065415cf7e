// Parsing dates in documents, written in words or digits. Pure functions.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

enum class DateOrder { Open, DayFirst, MonthFirst };

struct WrittenDate {
    size_t first = 0, count = 0; // index of the first word, number of words
    std::chrono::year_month_day date;
    // The date with day and month swapped, if that is possible too.
    std::optional<std::chrono::year_month_day> or_else;
    DateOrder shows = DateOrder::Open; // the order, if the date alone shows it
    bool in_words = false;             // whether its month is written in words
};

// Returns all dates in the words of a line; ambiguous ones with the day first. Names of months are recognised in these
// languages (Tesseract's names, or BCP 47; by CLDR) and in English. Years of two digits are from 1950 to 2049.
std::vector<WrittenDate> dates_in(const std::vector<std::string>& words, const std::vector<std::string>& languages);

// Returns the order of day and month in numeric dates of a language, by CLDR; Open for English, which has both.
DateOrder usual_order(const std::string& language);

std::string iso_date(std::chrono::year_month_day date); // ISO 8601-1, 5.2.2.1: 2026-03-04
std::optional<std::chrono::year_month_day> date_of_iso(const std::string& text);

}
