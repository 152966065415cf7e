#include "core/reading/worn_words.h"

#include "core/reading/letter_shapes.h"
#include "core/reading/page_letters.h"
#include "core/reading/parted_words.h"

#include <algorithm>
#include <cctype>
#include <iterator>
#include <optional>
#include <utility>

namespace yelvin {

namespace {

bool begins_small(const std::string& word) { return std::islower(static_cast<unsigned char>(word.front())) != 0; }
bool begins_large(const std::string& word) { return std::isupper(static_cast<unsigned char>(word.front())) != 0; }

// The known words that it may be: one that begins small only within a sentence, and for a known word only a more usual
// one ("be" and "he", "next" and "nest" are too near by their ink alone).
std::vector<PageLetters::Instead> others_of(const TextLine& line, size_t at, const TextLine* above, WordList& words) {
    constexpr double hardly_read = 70; // of 100
    constexpr double clearly = 0.5;    // natural logarithm of how much more often it is written
    constexpr size_t most_near = 40;
    const Word& word = line.words[at];
    const bool known = words.knows(word.text) != WordList::Known::No;
    const auto own = words.log_share(word.text);
    auto others = words_alike(word.text, words, known && own ? *own : -1e9);
    const size_t alike = others.size();
    if (word.confidence < hardly_read || !known)
        std::ranges::move(words.near(word.text, most_near), std::back_inserter(others));
    const bool may_be_small = is_within_sentence(line, at, line.language, above);
    std::vector<PageLetters::Instead> out;
    for (size_t i = 0; i < others.size(); ++i) {
        const bool is_small = begins_large(word.text) && begins_small(others[i]);
        if (is_small && !may_be_small && others[i].substr(1) == word.text.substr(1)) continue;
        const double more_usual = own ? *words.log_share(others[i]) - *own : 0;
        if (known && own && !is_small && more_usual < clearly) continue;
        out.push_back({std::move(others[i]), more_usual, i < alike, is_small && may_be_small});
    }
    return out;
}

}

void put_right_worn_words(TextLayer& layer, const cv::Mat& grey,
                          const std::function<WordList*(const std::string& language)>& words_of) {
    let_go_lone_quotes(layer);
    std::optional<PageLetters> letters; // learnt where a word needs them
    const TextLine* above = nullptr;
    for (TextLine& line : layer.lines) {
        const TextLine* const line_above = std::exchange(above, &line);
        WordList* const words = words_of(line.language);
        if (!words) continue;
        for (size_t i = 0; i < line.words.size(); ++i) {
            Word& word = line.words[i];
            const bool known = words->knows(word.text) != WordList::Known::No;
            // Where it is not known how usual words are, a known one that was surely read stays.
            if (known && word.confidence >= PageLetters::sure_word && !words->log_share(word.text)) continue;
            const auto others = others_of(line, i, line_above, *words);
            std::optional<Word> better;
            if (!others.empty()) {
                if (!letters) letters.emplace(layer, grey, *words);
                better = letters->rather(line, word, known, others);
            }
            if (!better) better = known_by_shape(word, *words);
            if (better) {
                word = std::move(*better);
            } else if (auto two = two_words_of(word, grey, *words)) {
                word = std::move(two->first);
                line.words.insert(line.words.begin() + static_cast<std::ptrdiff_t>(++i), std::move(two->second));
            }
        }
    }
}

}
