// The number of a document: after or below a label, or after its title.
#include "core/paper_facts/dates_written.h"
#include "core/paper_facts/paper_facts_found.h"
#include "core/text/check_digits.h"

#include <fmt/format.h>

#include <algorithm>

namespace yelvin {

namespace {

struct NumberSeen {
    std::string value, means, reason;
    double score = 0;
    std::vector<LineWord> place;
};

std::string_view bare(std::string_view word) {
    while (!word.empty() && std::string_view(",;:.)#").contains(word.back())) word.remove_suffix(1);
    while (!word.empty() && std::string_view("(#:").contains(word.front())) word.remove_prefix(1);
    return word;
}

// Letters and digits with separators between them, as document numbers have: K4471, 2026-0417, 10/47; no words.
bool is_code(std::string_view word) {
    word = bare(word);
    if (word.empty()) return false;
    const bool good = std::ranges::all_of(word, [](unsigned char c) {
        return (c < 0x80 && std::isalnum(c)) || std::string_view("-/._").contains(static_cast<char>(c));
    });
    if (!good) return false;
    const bool capitals =
        std::ranges::all_of(word, [](char c) { return (c >= 'A' && c <= 'Z') || c == '-' || c == '/'; });
    return has_digit(word) || (capitals && word.size() <= 4);
}

struct CodeRead {
    std::string value;
    size_t first = 0, count = 0; // words of the part
};

// Returns the number that begins at this word, over as many words as are codes; nothing if it is a date, an amount or
// an account number.
std::optional<CodeRead> number_at(const PaperPart& part, size_t first, const std::string& language) {
    while (first < part.words.size() && word_key(part.words[first]).empty()) ++first; // a dash between label and number
    for (const WrittenDate& date : dates_in(part.words, {language}))
        if (first >= date.first && first < date.first + date.count) return std::nullopt;
    std::string value;
    size_t end = first;
    for (; end < part.words.size() && is_code(part.words[end]); ++end) {
        if (end > first && !has_digit(part.words[end])) break;
        value += (value.empty() ? "" : " ") + std::string(bare(part.words[end]));
        if (part.words[end].ends_with(',') || part.words[end].ends_with(';')) {
            ++end;
            break;
        }
    }
    if (value.size() < 2 || value.size() > 30 || !has_digit(value)) return std::nullopt;
    if (check_digits(value) != CheckDigits::None && value[0] >= 'A') return std::nullopt;
    if (end == first + 1 && is_money(part.words[first])) return std::nullopt;
    return CodeRead{value, first, end - first};
}

bool is_numbering(const std::string& key) {
    for (const char* word : {"no", "nr", "n", "number", "nummer", "numero"})
        if (key == word) return true;
    return false;
}

class NumbersOn {
  public:
    NumbersOn(const PaperPage& page, const PaperWords& words, const std::string& kind)
        : page_(page), words_(words), kind_(kind) {}

    std::vector<NumberSeen> all() {
        for (const PaperPart& part : page_.parts) look(part);
        return std::move(all_);
    }

  private:
    const PaperPage& page_;
    const PaperWords& words_;
    const std::string& kind_;
    std::vector<NumberSeen> all_;

    void look(const PaperPart& part) {
        for (size_t key = 0; key < part.keys.size(); ++key) {
            PhraseMatch found = longest_at(words_.numbers, part.keys, key);
            if (!found) continue;
            // One part of a German or Dutch compound, "Rechnungs-Nr", is no label alone.
            const size_t end = key + found.keys;
            // Labels with this key count only if a number follows at once.
            if (end < part.keys.size())
                beside(part, key, end, found);
            else
                behind(part, key, found);
            key = end - 1;
        }
    }

    void beside(const PaperPart& part, size_t key, size_t end, const PhraseMatch& found) {
        size_t value = end;
        while (value < part.keys.size() && is_numbering(part.keys[value])) ++value;
        if (value == part.keys.size()) return behind(part, key, found);
        const size_t word = part.word_of_key[value];
        if (word == part.word_of_key[end - 1]) return; // within a word
        if (const auto number = number_at(part, word, page_.language)) add(part, key, found, *number, part, "beside");
    }

    void behind(const PaperPart& part, size_t key, const PhraseMatch& found) {
        if (const PaperPart* right = page_.right_of(part)) {
            if (const auto number = number_at(*right, 0, page_.language))
                return add(part, key, found, *number, *right, "beside");
        }
        if (key > 0 && part.keys.size() > found.keys + 2) return; // a sentence that ends with such a word
        if (const PaperPart* under = page_.below(part))
            if (const auto number = number_at(*under, 0, page_.language))
                add(part, key, found, *number, *under, "under");
    }

    void add(const PaperPart& label_in, size_t key, const PhraseMatch& found, const CodeRead& number,
             const PaperPart& part, const char* where) {
        const size_t from = label_in.word_of_key[key], to = label_in.word_of_key[key + found.keys - 1];
        std::string label = label_in.text(from, to - from + 1);
        while (!label.empty() && (label.back() == ':' || label.back() == '.')) label.pop_back();
        NumberSeen candidate{number.value, found.phrase->means, fmt::format("{} “{}”", where, label), 0,
                             part.places_of(number.first, number.count)};
        const bool in_title = label_in.height > 1.25 * page_.usual_height || label_in.bold ||
                              longest_at(words_.subjects, label_in.keys, 0);
        const bool starts = key == 0 && &label_in == &part;
        const bool plain_word =
            found.keys == 1 && !found.phrase->keys[0].ends_with("nummer") && !found.phrase->keys[0].ends_with("nr");
        candidate.score = score_of(found.phrase->means);
        if (plain_word && &label_in == &part && !in_title)
            candidate.score *= starts                          ? 0.9
                               : is_unlike_words(number.value) ? 0.8
                                                               : 0.4; // In a sentence: "invoice 20417".
        if (where == std::string_view("under") && plain_word) candidate.score *= 0.5;
        if (page_.down(part) > 0.6) candidate.score *= 0.8;
        candidate.score *= std::min(1.0, part.sure_of(number.first, number.count) / 0.88);
        all_.push_back(std::move(candidate));
    }

    // "WNT/M/014" cannot be anything else, wherever it is; "417" can.
    static bool is_unlike_words(const std::string& value) {
        const bool letters = std::ranges::any_of(value, [](char c) { return c >= 'A' && c <= 'Z'; });
        return value.size() >= 5 && (letters || value.contains('/') || value.contains('-'));
    }

    double score_of(const std::string& means) const {
        if (means == "other") return 0;
        if (means == kind_) return 0.98;
        if (means == "lease" && kind_ == "contract") return 0.98;
        if (means == "reference") return 0.93;
        if (kind_.empty()) return 0.8;
        return 0.5; // For example the number of an order on an invoice.
    }
};

}

std::optional<PaperFact> number_on(const PaperPage& page, const PaperWords& words, const std::string& kind) {
    const std::vector<NumberSeen> all = NumbersOn(page, words, kind).all();
    const auto best = std::ranges::max_element(all, {}, &NumberSeen::score);
    if (best == all.end() || best->score < 0.3) return std::nullopt;
    PaperFact fact{best->value, best->score, best->reason, best->place};
    for (const NumberSeen& other : all)
        if (other.value != best->value && other.means == best->means && other.score > best->score - 0.03)
            fact.sure = std::min(fact.sure, 0.8);
    return fact;
}

}
