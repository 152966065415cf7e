// Which of the dates on a page is the document's own.
#include "core/paper_facts/dates_written.h"
#include "core/paper_facts/paper_facts_found.h"

#include <fmt/format.h>

#include <algorithm>

namespace yelvin {

namespace {

struct DateSeen {
    WrittenDate written;
    const PaperPart* part = nullptr;
    double score = 0;
    std::string reason;
};

// "the", "den", "le": words that may stand between a label and its date.
bool is_small(const std::string& key) {
    for (const char* word : {"the", "den", "dem", "le", "la", "am", "on", "op", "de", "of", "der", "this"})
        if (key == word) return true;
    return false;
}

// What the label before a date means, and how certain that makes it.
struct DateLabel {
    std::string means;
    std::string words;
    bool beside = true; // in the same line, else over it
};

std::optional<DateLabel> date_label_in(const PaperPart& part, size_t key, const PaperWords& words) {
    while (key > 0) {
        if (const PhraseMatch found = ending_at(words.dates, part, key)) {
            // "vom" or "of" alone is a label only if nothing precedes it.
            if (found.keys == 1 && found.phrase->means == "made" && key > 1) return std::nullopt;
            const size_t from = part.word_of_key[key - found.keys], to = part.word_of_key[key - 1];
            return DateLabel{found.phrase->means, part.text(from, to - from + 1)};
        }
        if (!is_small(part.keys[key - 1])) break;
        --key;
    }
    return std::nullopt;
}

std::optional<DateLabel> date_label_of(const PaperPage& page, const DateSeen& candidate, const PaperWords& words) {
    const PaperPart& part = *candidate.part;
    const size_t key = part.key_of_word[candidate.written.first];
    if (auto inside = date_label_in(part, key, words)) return inside;
    for (size_t i = 0; i < key; ++i)
        if (!is_small(part.keys[i])) {
            // "signed at Hexley, 4 March 2026": a place between label and date.
            const PhraseMatch found = longest_at(words.dates, part.keys, 0);
            if (found && found.phrase->means == "signed" && key - found.keys <= 4)
                return DateLabel{"signed", part.text(0, part.word_of_key[found.keys - 1] + 1)};
            return std::nullopt;
        }
    if (const PaperPart* left = page.left_of(part)) {
        if (auto beside = date_label_in(*left, left->keys.size(), words)) return beside;
        // It is the label of something else.
        if (!left->keys.empty() && left->words.back().ends_with(':')) return std::nullopt;
    }
    if (const PaperPart* above = page.above(part))
        if (const PhraseMatch found = whole_part(words.dates, *above))
            return DateLabel{found.phrase->means, above->text(), false};
    return std::nullopt;
}

std::string quoted_label(std::string words) {
    while (!words.empty() && (words.back() == ':' || words.back() == ' ' || words.back() == '.')) words.pop_back();
    return words;
}

void judge_by_label(DateSeen& candidate, const DateLabel& label) {
    const std::string words = quoted_label(label.words);
    candidate.reason = fmt::format("{} “{}”", label.beside ? "beside" : "under", words);
    if (label.means == "own")
        candidate.score = 0.97;
    else if (label.means == "made")
        candidate.score = 0.95;
    else if (label.means == "signed")
        candidate.score = 0.93;
    else
        candidate.score = 0.05;
}

// "Hexley, 4 March 2026": one to three words with a comma, all before the date.
bool follows_a_place(const PaperPart& part, size_t first) {
    size_t named = first;
    while (named > 0 && part.key_of_word[named] > part.key_of_word[named - 1] &&
           is_small(part.keys[part.key_of_word[named] - 1]))
        --named;
    if (named == 0 || named > 3 || !part.words[named - 1].ends_with(',')) return false;
    return !has_digit(part.text(0, named));
}

// With a day of the week before it, or with nothing else beside it.
bool stands_alone(const PaperPart& part, const WrittenDate& written) {
    const size_t others = part.words.size() - written.count;
    if (others == 0) return true;
    return others <= 2 && written.first == others && !has_digit(part.text(0, others));
}

void judge(const PaperPage& page, DateSeen& candidate, const PaperWords& words) {
    const PaperPart& part = *candidate.part;
    const double down = page.down(part);
    const auto label = date_label_of(page, candidate, words);
    if (label) return judge_by_label(candidate, *label);
    if (follows_a_place(part, candidate.written.first) &&
        candidate.written.first + candidate.written.count == part.words.size()) {
        candidate.score = down < 0.45 ? 0.95 : 0.85;
        candidate.reason = "after a place";
    } else if (stands_alone(part, candidate.written)) {
        candidate.score = down < 0.45 ? 0.93 : 0.6;
        candidate.reason = "on its own line";
    } else if (part.height > 1.25 * page.usual_height && down < 0.5) {
        candidate.score = 0.85;
        candidate.reason = "in a heading";
    } else {
        candidate.score = down < 0.4 ? 0.45 : 0.3;
        candidate.reason = "in the text";
    }
}

bool has_sign(const PaperPage& page, std::string_view sign) {
    return std::ranges::any_of(page.parts, [&](const PaperPart& part) {
        return std::ranges::any_of(part.words, [&](const std::string& word) { return word.contains(sign); });
    });
}

// Whether day or month comes first, by the document's other dates, otherwise by its language.
DateOrder order_on(const PaperPage& page, const std::vector<DateSeen>& all, std::chrono::year_month_day today) {
    int day_first = 0, month_first = 0;
    for (const DateSeen& candidate : all) {
        // "11-22-33" is a bank sort code rather than a day of 2033.
        if (candidate.written.in_words || candidate.written.date.year() > today.year() + std::chrono::years(3))
            continue;
        day_first += candidate.written.shows == DateOrder::DayFirst;
        month_first += candidate.written.shows == DateOrder::MonthFirst;
    }
    if (day_first != month_first) return day_first > month_first ? DateOrder::DayFirst : DateOrder::MonthFirst;
    if (const DateOrder usual = usual_order(page.language); usual != DateOrder::Open) return usual;
    const bool dollars = has_sign(page, "$"), pounds = has_sign(page, "£") || has_sign(page, "€");
    if (dollars != pounds) return dollars ? DateOrder::MonthFirst : DateOrder::DayFirst;
    return DateOrder::Open;
}

}

std::optional<PaperFact> date_on(const PaperPage& page, const PaperWords& words, std::chrono::year_month_day today) {
    std::vector<DateSeen> all;
    for (const PaperPart& part : page.parts)
        for (const WrittenDate& written : dates_in(part.words, {page.language})) all.push_back({written, &part, 0, {}});
    if (all.empty()) return std::nullopt;
    const DateOrder order = order_on(page, all, today);
    bool is_open = false;
    for (DateSeen& candidate : all) {
        judge(page, candidate, words);
        WrittenDate& written = candidate.written;
        const bool dotted = candidate.part->words[written.first].contains('.');
        if (written.or_else && order == DateOrder::MonthFirst && !dotted) std::swap(written.date, *written.or_else);
        if (!written.or_else || order != DateOrder::Open || dotted) written.or_else.reset();
        if (std::chrono::sys_days(written.date) > std::chrono::sys_days(today) + std::chrono::days(30))
            candidate.score *= 0.6;
    }
    // The first one of several with the same score.
    const auto best = std::ranges::max_element(all, {}, &DateSeen::score);
    if (best->score < 0.25) return std::nullopt;
    PaperFact fact{iso_date(best->written.date), best->score, best->reason,
                   best->part->places_of(best->written.first, best->written.count)};
    for (const DateSeen& other : all) {
        if (&other == &*best || other.written.date == best->written.date) continue;
        if (other.score > best->score - 0.03) fact.sure = std::min(fact.sure, 0.8); // as good a one
    }
    is_open = best->written.or_else.has_value();
    if (is_open) {
        fact.sure = std::min(fact.sure, 0.6);
        fact.reason += fmt::format("; it could also be {}", iso_date(*best->written.or_else));
    }
    fact.sure *= std::min(1.0, best->part->sure_of(best->written.first, best->written.count) / 0.8);
    return fact;
}

}
