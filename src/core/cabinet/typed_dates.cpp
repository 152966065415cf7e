#include "core/cabinet/typed_dates.h"

#include "core/cabinet/terms.h"
#include "core/paper_facts/dates_written.h"

#include <algorithm>
#include <array>
#include <string_view>

namespace yelvin {

namespace {

using namespace std::chrono;

bool is_one_of(std::string_view word, std::initializer_list<std::string_view> of) {
    return std::ranges::find(of, word) != of.end();
}

// Month names in English, German, French and Dutch, folded, with abbreviations.
constexpr std::array<std::string_view, 12> months = {
    " january jan januar janvier januari ",
    " february feb februar fevrier fevr februari ",
    " march mar marz maerz mrz mars maart mrt ",
    " april apr avril avr ",
    " may mai mei ",
    " june jun juni juin ",
    " july jul juli juillet juil ",
    " august aug aout augustus ",
    " september sept sep septembre ",
    " october oct oktober okt octobre ",
    " november nov novembre ",
    " december dec dezember dez decembre ",
};
unsigned month_of(const std::string& word) {
    if (word.size() < 3) return 0;
    for (unsigned i = 0; i < months.size(); ++i)
        if (months[i].find(' ' + word + ' ') != std::string_view::npos) return i + 1;
    return 0;
}

constexpr std::array<std::string_view, 4> seasons = {" spring fruhling fruhjahr printemps voorjaar lente ",
                                                     " summer sommer ete zomer ", " autumn fall herbst automne herfst ",
                                                     " winter hiver "};
// The first month of the season: 3, 6, 9 or 12. Returns 0 if the word is no season.
unsigned season_of(const std::string& word) {
    if (word.size() < 3) return 0;
    for (unsigned i = 0; i < seasons.size(); ++i)
        if (seasons[i].find(' ' + word + ' ') != std::string_view::npos) return 3 * (i + 1);
    return 0;
}

bool says_last(const std::string& word) {
    return is_one_of(word, {"last", "letzten", "letzter", "letzte", "letztes", "letztem", "vorigen", "voriges",
                            "dernier", "derniere", "vorige", "vorig", "afgelopen"});
}
bool says_this(const std::string& word) {
    return is_one_of(word,
                     {"this", "diesen", "dieser", "diese", "dieses", "diesem", "ce", "cette", "cet", "deze", "dit"});
}

int year_of(const std::string& word) {
    if (word.size() != 4 || !std::ranges::all_of(word, [](char c) { return c >= '0' && c <= '9'; })) return 0;
    const int year = std::stoi(word);
    return year >= 1900 && year <= 2099 ? year : 0;
}
unsigned day_of(std::string word) {
    for (const char* end : {"st", "nd", "rd", "th"})
        if (word.size() > 2 && word.ends_with(end)) word.resize(word.size() - 2);
    if (word.empty() || word.size() > 2 || !std::ranges::all_of(word, [](char c) { return c >= '0' && c <= '9'; }))
        return 0;
    const int day = std::stoi(word);
    return day <= 31 ? static_cast<unsigned>(day) : 0;
}

DateSpan months_from(int year, unsigned first, int count) {
    const year_month begin = std::chrono::year(year) / month(first);
    return {sys_days(begin / 1), sys_days((begin + std::chrono::months(count)) / 1) - days(1)};
}
DateSpan days_from(sys_days first, int count) { return {first, first + days(count - 1)}; }

// The latest complete period of `count` months; with `now`, the latest one that has begun.
DateSpan latest(unsigned first_month, int count, year_month_day today, bool now) {
    const sys_days day = sys_days(today);
    DateSpan span{};
    for (int year = static_cast<int>(today.year()); year > 0; --year) {
        span = months_from(year, first_month, count);
        if (now ? span.from <= day : span.to < day) break;
    }
    return span;
}

struct TypedWords {
    const std::vector<std::string>& folded;
    size_t at;
    std::string operator[](size_t i) const { return at + i < folded.size() ? folded[at + i] : std::string(); }
};

// Parses relative dates: "last week", "this year", "mars dernier".
std::optional<TypedDate> relative(const TypedWords& words, year_month_day today) {
    const bool behind = says_last(words[1]) && !says_last(words[0]);
    const bool last = says_last(words[0]) || behind;
    if (!last && !says_this(words[0])) return std::nullopt;
    const std::string what = behind ? words[0] : words[1];
    const sys_days day = sys_days(today);
    const int year = static_cast<int>(today.year());
    if (is_one_of(what, {"year", "jahr", "annee", "an", "jaar"}))
        return TypedDate{2, months_from(year - (last ? 1 : 0), 1, 12), false};
    if (is_one_of(what, {"month", "monat", "mois", "maand"})) {
        const auto of = year_month(today.year(), today.month()) - std::chrono::months(last ? 1 : 0);
        return TypedDate{2, months_from(static_cast<int>(of.year()), static_cast<unsigned>(of.month()), 1), false};
    }
    if (is_one_of(what, {"week", "woche", "semaine"})) {
        const sys_days monday = day - (weekday(day) - Monday);
        return TypedDate{2, days_from(monday - days(last ? 7 : 0), 7), false};
    }
    if (const unsigned month = month_of(what)) return TypedDate{2, latest(month, 1, today, !last), false};
    if (const unsigned season = season_of(what)) return TypedDate{2, latest(season, 3, today, !last), false};
    return std::nullopt;
}

// Parses absolute dates: "12 March 2026", "March 12", "12 March", "March 2026", "March", "2026".
std::optional<TypedDate> absolute(const TypedWords& words, year_month_day today) {
    const auto day_span = [](int year, unsigned month, unsigned day) -> std::optional<DateSpan> {
        const year_month_day date = std::chrono::year(year) / std::chrono::month(month) / std::chrono::day(day);
        if (!date.ok()) return std::nullopt;
        return DateSpan{sys_days(date), sys_days(date)};
    };
    unsigned day = day_of(words[0]), month = day ? month_of(words[1]) : month_of(words[0]);
    if (!month) {
        const int year = year_of(words[0]);
        return year ? std::optional(TypedDate{1, months_from(year, 1, 12), true}) : std::nullopt;
    }
    size_t count = day ? 2 : 1;
    if (!day && day_of(words[1])) {
        day = day_of(words[1]);
        count = 2;
    }
    const int year = year_of(words[count]);
    if (year) ++count;
    if (!day && year) return TypedDate{count, months_from(year, month, 1), true};
    if (!day) {
        // "may" and "mars" are also ordinary words, and an abbreviated month alone is rarely meant as a date.
        return words[0].size() < 3 ? std::nullopt : std::optional(TypedDate{1, latest(month, 1, today, true), true});
    }
    const DateSpan that_month = latest(month, 1, today, true);
    const auto span = day_span(year ? year : static_cast<int>(year_month_day(that_month.from).year()), month, day);
    return span ? std::optional(TypedDate{count, *span, true}) : std::nullopt;
}

}

std::optional<TypedDate> typed_date(const std::vector<std::string>& words, size_t at, year_month_day today) {
    std::vector<std::string> all;
    for (size_t i = at; i < words.size() && i < at + 3; ++i) all.push_back(folded(words[i]));
    const TypedWords from{all, 0};
    if (is_one_of(from[0], {"today", "heute", "aujourdhui", "vandaag"}))
        return TypedDate{1, days_from(sys_days(today), 1), true};
    if (is_one_of(from[0], {"yesterday", "gestern", "hier", "gisteren"}))
        return TypedDate{1, days_from(sys_days(today) - days(1), 1), true};
    if (auto said = relative(from, today)) return said;
    // Dates in digits: 2026-03-12, 12.03.2026, 12/3/26.
    if (words[at].size() >= 6 && words[at].find_first_of("-./") != std::string::npos)
        for (const WrittenDate& date : dates_in({words[at]}, {"eng"}))
            if (date.count == 1) return TypedDate{1, {sys_days(date.date), sys_days(date.date)}, true};
    return absolute(from, today);
}

}
