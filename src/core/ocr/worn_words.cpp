#include "core/ocr/worn_words.h"

#include "core/ocr/letter_shapes.h"
#include "core/ocr/page_letters.h"
#include "core/ocr/parted_words.h"

#include <unicode/uchar.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <cctype>
#include <iterator>
#include <map>
#include <optional>
#include <utility>

namespace yelvin {

namespace {

bool begins_small(const std::string& word) { return std::islower(static_cast<unsigned char>(word.front())) != 0; }
bool begins_large(const std::string& word) { return std::isupper(static_cast<unsigned char>(word.front())) != 0; }

// Returns the known words that it may be. A word in lower case is a candidate only within a sentence; for a known word
// only more common ones are ("be" and "he", or "next" and "nest", are too similar to decide by their ink alone).
std::vector<PageLetters::Instead> others_of(const TextLine& line, size_t at, const TextLine* above, bool known,
                                            WordList& words) {
    constexpr double hardly_read = 70, fairly_read = 85; // of 100
    constexpr double clearly = 0.5;                      // natural logarithm of how much more often it is written
    constexpr size_t most_near = 40;
    const Word& word = line.words[at];
    const auto own = words.log_share(word.text);
    auto others = confusable_words(word.text, words, known && own ? *own : -1e9);
    const size_t alike = others.size();
    // A word that was recognised with fair confidence is compared only with words that differ by one confusion of
    // letters.
    if (word.confidence < (known ? hardly_read : fairly_read))
        std::ranges::move(words.near(word.text, most_near), std::back_inserter(others));
    const bool may_be_small = is_within_sentence(line, at, line.language, above);
    std::vector<PageLetters::Instead> out;
    for (size_t i = 0; i < others.size(); ++i) {
        const bool is_small = begins_large(word.text) && begins_small(others[i]);
        const bool same_letter = std::tolower(static_cast<unsigned char>(word.text.front())) == others[i].front();
        if (is_small && same_letter && !may_be_small) continue;
        const double more_usual = own ? *words.log_share(others[i]) - *own : 0;
        if (known && own && !is_small && more_usual < clearly) continue;
        out.push_back({std::move(others[i]), more_usual, i < alike, is_small && may_be_small, own.has_value()});
    }
    return out;
}

// Returns the word without punctuation at both ends.
std::string letters_of(const std::string& word) {
    auto text = icu::UnicodeString::fromUTF8(word);
    int from = 0, to = text.length();
    while (from < to && !u_isalnum(text.char32At(from))) from = text.moveIndex32(from, 1);
    while (to > from && !u_isalnum(text.char32At(to - 1))) to = text.moveIndex32(to, -1);
    std::string out;
    text.tempSubStringBetween(from, to).toUTF8String(out);
    return out;
}

// Replaces characters that have the same shape in many typefaces by one of them: upper-case I, lower-case l, the digit
// 1 and the vertical bar.
std::string strokes_alike(std::string word) {
    std::ranges::replace_if(
        word, [](char c) { return c == 'I' || c == '1' || c == '|'; }, 'l');
    return word;
}

// Words that occur at least twice on the page with high confidence. They count as known words.
class RepeatedWords {
  public:
    explicit RepeatedWords(const TextLayer& layer) {
        constexpr double surely = 85; // of 100
        for (const TextLine& line : layer.lines)
            for (const Word& word : line.words)
                if (word.confidence >= surely) ++seen_[letters_of(word.text)];
    }
    bool has(const Word& word) const {
        const auto at = seen_.find(letters_of(word.text));
        return at != seen_.end() && at->second > 1;
    }

  private:
    std::map<std::string, int> seen_;
};

// Returns the word of the first recognition that is in the same position.
const Word* same_place(const Word& word, const TextLine& line) {
    constexpr double mostly = 0.7; // of the wider one
    for (const Word& other : line.words) {
        const int shared = std::min(word.box.br().x, other.box.br().x) - std::max(word.box.x, other.box.x);
        if (shared >= mostly * std::max(word.box.width, other.box.width)) return &other;
    }
    return nullptr;
}

// Whether the word contains marks that are often misread letters.
bool has_mark_for_letter(const std::string& word) { return word.find_first_of("|![](){}\\/") != std::string::npos; }

// Whether all letters are Latin: other letters are not learnt, so the ink never decides.
bool is_latin(const std::string& word) {
    const auto text = icu::UnicodeString::fromUTF8(word);
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1))
        if (u_isalpha(text.char32At(i)) && text.char32At(i) >= 0x250) return false;
    return true;
}

// Whether the first of two readings is preferred if the ink cannot tell them apart.
bool fits_better(const Word& first, const Word& second, WordList& words) {
    constexpr double surely = 85, fairly = 60, far_surer = 20;           // of 100
    if (letters_of(first.text) == letters_of(second.text)) return false; // They differ in punctuation only.
    if (!is_latin(first.text)) return false;
    if (strokes_alike(first.text) == strokes_alike(second.text)) return true;
    if (words.knows(second.text) == WordList::Known::Yes)
        return first.confidence >= surely || (begins_large(first.text) && first.confidence >= fairly);
    return first.confidence >= fairly && second.confidence < first.confidence + far_surer;
}

class WornWords {
  public:
    WornWords(TextLayer& layer, const cv::Mat& grey) : layer_(layer), grey_(grey), repeated_(layer) {}

    // Restores the first reading of a word if the ink agrees with it, or if the ink cannot tell and the first reading
    // had a high confidence.
    void keep_first_where_it_fits(const TextLine& line, Word& word, const TextLine& first, WordList& words) {
        const Word* const before = same_place(word, first);
        if (!before || before->text == word.text) return;
        Word both = word;
        both.box |= before->box;
        const auto which = letters(words).which(line, both, before->text, word.text);
        const bool mark = has_mark_for_letter(word.text) && !has_mark_for_letter(before->text);
        const bool stays = which == PageLetters::Ink::First ||
                           (which == PageLetters::Ink::CannotTell && (mark || fits_better(*before, word, words)));
        if (!stays) return;
        word.text = before->text;
        word.confidence = before->confidence;
    }

    std::optional<Word> better(const TextLine& line, size_t at, const TextLine* above, WordList& words) {
        const Word& word = line.words[at];
        const bool known = words.knows(word.text) != WordList::Known::No;
        const auto standing = known                 ? PageLetters::Standing::Known
                              : repeated_.has(word) ? PageLetters::Standing::OfThePage
                                                    : PageLetters::Standing::Unknown;
        // Without word frequencies, a known word with high confidence is not replaced.
        if (known && word.confidence >= PageLetters::sure_word && !words.log_share(word.text)) return std::nullopt;
        const auto others = others_of(line, at, above, known, words);
        return others.empty() ? std::nullopt : letters(words).rather(line, word, standing, others);
    }

    bool may_be_two(const Word& word) const { return !repeated_.has(word); }

  private:
    TextLayer& layer_;
    const cv::Mat& grey_;
    RepeatedWords repeated_;
    std::optional<PageLetters> letters_; // learnt where a word needs them

    const PageLetters& letters(WordList& words) {
        if (!letters_) letters_.emplace(layer_, grey_, words);
        return *letters_;
    }
};

}

void correct_worn_words(TextLayer& layer, const FirstReadings& first, const cv::Mat& grey,
                        const std::function<WordList*(const std::string& language)>& words_of) {
    remove_lone_quotes(layer);
    WornWords worn(layer, grey);
    const TextLine* above = nullptr;
    for (size_t row = 0; row < layer.lines.size(); ++row) {
        TextLine& line = layer.lines[row];
        const TextLine* const line_above = std::exchange(above, &line);
        WordList* const words = words_of(line.language);
        if (!words) continue;
        if (const auto at = first.find(row); at != first.end())
            for (Word& word : line.words) worn.keep_first_where_it_fits(line, word, at->second, *words);
        for (size_t i = 0; i < line.words.size(); ++i) {
            Word& word = line.words[i];
            if (auto better = worn.better(line, i, line_above, *words)) {
                word = std::move(*better);
            } else if (auto two = worn.may_be_two(word) ? two_words_of(word, line, grey, *words) : std::nullopt) {
                word = std::move(two->first);
                line.words.insert(line.words.begin() + static_cast<std::ptrdiff_t>(++i), std::move(two->second));
            }
        }
    }
}

}
