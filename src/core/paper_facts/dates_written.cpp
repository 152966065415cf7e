#include "core/paper_facts/dates_written.h"

#include "core/paper_facts/paper_words.h"

#include <fmt/format.h>
#include <unicode/dtfmtsym.h>
#include <unicode/smpdtfmt.h>

#include <array>
#include <charconv>
#include <map>
#include <memory>
#include <mutex>

namespace yelvin {

using std::chrono::year_month_day;

namespace {

using MonthNames = std::map<std::string, unsigned>; // by their keys

// Full and abbreviated, as in a date and standing alone (CLDR has both: "marca" and "marzec" in Polish).
MonthNames months_by_cldr(const std::string& language) {
    MonthNames names;
    UErrorCode failed = U_ZERO_ERROR;
    const icu::DateFormatSymbols symbols(icu::Locale(language.c_str()), failed);
    if (U_FAILURE(failed)) return names;
    for (const auto context : {icu::DateFormatSymbols::FORMAT, icu::DateFormatSymbols::STANDALONE}) {
        for (const auto width : {icu::DateFormatSymbols::ABBREVIATED, icu::DateFormatSymbols::WIDE}) {
            int32_t count = 0;
            const icu::UnicodeString* const months = symbols.getMonths(count, context, width);
            for (int32_t i = 0; i < std::min(count, 12); ++i) {
                std::string name;
                months[i].toUTF8String(name);
                const std::string key = word_key(name);
                if (key.size() >= 2 && key.find_first_not_of("0123456789") != std::string::npos)
                    names.emplace(key, static_cast<unsigned>(i) + 1);
            }
        }
    }
    return names;
}

const MonthNames& months_of(const std::string& language) {
    static std::mutex mutex;
    static std::map<std::string, MonthNames> known;
    const std::lock_guard lock(mutex);
    const auto at = known.find(language);
    return at != known.end() ? at->second : known.emplace(language, months_by_cldr(language)).first->second;
}

std::optional<int> number_of(std::string_view digits) {
    int value = 0;
    const auto [end, failed] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (failed != std::errc() || end != digits.data() + digits.size() || digits.empty()) return std::nullopt;
    return value;
}

std::optional<int> year_of(std::string_view digits, bool four_only = false) {
    const auto value = number_of(digits);
    if (!value) return std::nullopt;
    if (digits.size() == 4 && *value >= 1900 && *value < 2200) return value;
    if (digits.size() == 2 && !four_only) return *value + (*value < 50 ? 2000 : 1900);
    return std::nullopt;
}

std::optional<year_month_day> date_of(int year, int month, int day) {
    if (month < 1 || day < 1) return std::nullopt;
    const year_month_day date{std::chrono::year(year), std::chrono::month(static_cast<unsigned>(month)),
                              std::chrono::day(static_cast<unsigned>(day))};
    return date.ok() ? std::optional(date) : std::nullopt;
}

std::string_view without_marks(std::string_view word) {
    while (!word.empty() && std::string_view(",;:.)]").contains(word.back())) word.remove_suffix(1);
    while (!word.empty() && std::string_view("([").contains(word.front())) word.remove_prefix(1);
    return word;
}

// Three numbers with the same separator between them.
std::optional<WrittenDate> in_digits(std::string_view a, std::string_view b, std::string_view c) {
    WrittenDate out;
    if (const auto year = year_of(a, true)) {
        const auto month = number_of(b), day = number_of(c);
        const auto date = month && day && b.size() <= 2 && c.size() <= 2 ? date_of(*year, *month, *day) : std::nullopt;
        if (!date) return std::nullopt;
        out.date = *date;
        return out;
    }
    const auto year = year_of(c);
    const auto first = number_of(a), second = number_of(b);
    if (!year || !first || !second || a.size() > 2 || b.size() > 2) return std::nullopt;
    const auto day_first = date_of(*year, *second, *first), month_first = date_of(*year, *first, *second);
    if (!day_first && !month_first) return std::nullopt;
    out.date = day_first ? *day_first : *month_first;
    if (day_first && month_first && *first != *second) out.or_else = month_first;
    if (!month_first) out.shows = DateOrder::DayFirst;
    if (!day_first) out.shows = DateOrder::MonthFirst;
    return out;
}

std::optional<WrittenDate> one_word(std::string_view word) {
    word = without_marks(word);
    // 2026年3月4日, as it is written in Chinese and Japanese
    const size_t y = word.find("年"), m = word.find("月"), d = word.find("日");
    if (y != std::string_view::npos && m != std::string_view::npos && d != std::string_view::npos && y < m && m < d)
        return in_digits(word.substr(0, y), word.substr(y + 3, m - y - 3), word.substr(m + 3, d - m - 3));
    for (const char mark : {'.', '/', '-'}) {
        const size_t first = word.find(mark), second = word.find(mark, first + 1);
        if (first == std::string_view::npos || second == std::string_view::npos) continue;
        return in_digits(word.substr(0, first), word.substr(first + 1, second - first - 1), word.substr(second + 1));
    }
    return std::nullopt;
}

// A day of the month: 4, 4., 4th, 1er.
std::optional<int> day_of(std::string_view word) {
    word = without_marks(word);
    if (word == "ler" || word == "Ier" || word == "1°") return 1; // Common misreadings of "1er".
    size_t digits = 0;
    while (digits < word.size() && word[digits] >= '0' && word[digits] <= '9') ++digits;
    if (digits < 1 || digits > 2) return std::nullopt;
    const std::string behind = word_key(word.substr(digits));
    for (const char* ending : {"", "st", "nd", "rd", "th", "er", "e", "o"})
        if (behind == ending) return number_of(word.substr(0, digits));
    return std::nullopt;
}

class InWords {
  public:
    InWords(const std::vector<std::string>& words, const std::vector<std::string>& languages)
        : words_(words), languages_(languages) {}

    std::optional<WrittenDate> at(size_t first) const {
        if (auto date = day_first(first)) return date;
        return month_first(first);
    }

  private:
    const std::vector<std::string>& words_;
    const std::vector<std::string>& languages_;

    std::optional<unsigned> month_at(size_t i) const {
        if (i >= words_.size()) return std::nullopt;
        const std::string key = word_key(words_[i]);
        for (const std::string& language : languages_) {
            const MonthNames& names = months_of(language);
            if (const auto found = names.find(key); found != names.end()) return found->second;
        }
        for (const char* english : {"en", "en_GB"}) // "Sep" and "Sept"
            if (const auto found = months_of(english).find(key); found != months_of(english).end())
                return found->second;
        return std::nullopt;
    }
    std::optional<int> year_at(size_t i) const {
        if (i >= words_.size()) return std::nullopt;
        std::string_view word = without_marks(words_[i]);
        if (word.starts_with('\'')) return year_of(word.substr(1));
        return year_of(word, true);
    }
    std::optional<WrittenDate> found(size_t first, size_t end, int day, unsigned month, int year) const {
        const auto date = date_of(year, static_cast<int>(month), day);
        if (!date) return std::nullopt;
        WrittenDate out;
        out.first = first;
        out.count = end - first;
        out.date = *date;
        out.in_words = true;
        return out;
    }

    std::optional<WrittenDate> day_first(size_t first) const {
        const auto day = day_of(words_[first]);
        if (!day) return std::nullopt;
        size_t next = first + 1;
        for (const char* between : {"of", "de", "day"})
            if (next < words_.size() && word_key(words_[next]) == between) ++next;
        if (const auto month = month_at(next)) {
            size_t behind = next + 1;
            if (behind < words_.size() && word_key(words_[behind]) == "de") ++behind;
            const auto year = year_at(behind);
            return year ? found(first, behind + 1, *day, *month, *year) : std::nullopt;
        }
        // 4. 3. 2026
        if (first + 2 >= words_.size() || !words_[first].ends_with('.') || !words_[first + 1].ends_with('.'))
            return std::nullopt;
        auto date =
            in_digits(without_marks(words_[first]), without_marks(words_[first + 1]), without_marks(words_[first + 2]));
        if (!date) return std::nullopt;
        date->first = first;
        date->count = 3;
        return date;
    }

    std::optional<WrittenDate> month_first(size_t first) const {
        const auto month = month_at(first);
        if (!month || first + 2 >= words_.size()) return std::nullopt;
        const auto day = day_of(words_[first + 1]);
        const auto year = year_at(first + 2);
        if (!day || !year) return std::nullopt;
        auto date = found(first, first + 3, *day, *month, *year);
        if (date) date->shows = DateOrder::MonthFirst;
        return date;
    }
};

}

std::vector<WrittenDate> dates_in(const std::vector<std::string>& words, const std::vector<std::string>& languages) {
    std::vector<WrittenDate> all;
    const InWords in_words(words, languages);
    for (size_t i = 0; i < words.size(); ++i) {
        auto date = one_word(words[i]);
        if (date) {
            date->first = i;
            date->count = 1;
        } else {
            date = in_words.at(i);
        }
        if (!date) continue;
        all.push_back(*date);
        i += date->count - 1;
    }
    return all;
}

DateOrder usual_order(const std::string& language) {
    if (language == "eng" || language.starts_with("en")) return DateOrder::Open;
    const std::unique_ptr<icu::DateFormat> format(
        icu::DateFormat::createDateInstance(icu::DateFormat::kShort, icu::Locale(language.c_str())));
    const auto* simple = dynamic_cast<icu::SimpleDateFormat*>(format.get());
    if (!simple) return DateOrder::Open;
    icu::UnicodeString pattern;
    simple->toPattern(pattern);
    const int day = pattern.indexOf(u'd'), month = pattern.indexOf(u'M');
    if (day < 0 || month < 0) return DateOrder::Open;
    return day < month ? DateOrder::DayFirst : DateOrder::MonthFirst;
}

std::string iso_date(year_month_day date) {
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(date.year()), static_cast<unsigned>(date.month()),
                       static_cast<unsigned>(date.day()));
}

std::optional<year_month_day> date_of_iso(const std::string& text) {
    if (text.size() != 10 || text[4] != '-' || text[7] != '-') return std::nullopt;
    const auto date = in_digits(std::string_view(text).substr(0, 4), std::string_view(text).substr(5, 2),
                                std::string_view(text).substr(8));
    return date ? std::optional(date->date) : std::nullopt;
}

}
