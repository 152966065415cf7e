#include "core/reading/worn_words.h"

#include "core/reading/letter_shapes.h"
#include "core/reading/page_letters.h"

#include <algorithm>
#include <cctype>
#include <optional>
#include <utility>

namespace yelvin {

namespace {

bool begins_small_instead(const std::string& other, const std::string& word) {
    const auto small = [](char c) { return static_cast<char>(std::tolower(static_cast<unsigned char>(c))); };
    return other.substr(1) == word.substr(1) && other[0] != word[0] && other[0] == small(word[0]);
}

// The known words that the word may be; one that begins small only within a sentence.
std::vector<std::string> others_of(const TextLine& line, size_t at, WordList& words) {
    const std::string& word = line.words[at].text;
    auto others = words_alike(word, words);
    if (!is_within_sentence(line, at, line.language))
        std::erase_if(others, [&](const std::string& other) { return begins_small_instead(other, word); });
    return others;
}

}

void put_right_worn_words(TextLayer& layer, const cv::Mat& grey,
                          const std::function<WordList*(const std::string& language)>& words_of) {
    std::optional<PageLetters> letters; // learnt where a word needs them
    for (TextLine& line : layer.lines) {
        WordList* const words = words_of(line.language);
        if (!words) continue;
        for (size_t i = 0; i < line.words.size(); ++i) {
            Word& word = line.words[i];
            const bool known = words->knows(word.text) != WordList::Known::No;
            if (known && word.confidence >= PageLetters::sure_word) continue;
            const auto others = others_of(line, i, *words);
            std::optional<Word> better;
            if (!others.empty()) {
                if (!letters) letters.emplace(layer, grey, *words);
                better = letters->rather(line, word, known, others);
            }
            if (!better) better = known_by_shape(word, *words);
            if (better) word = std::move(*better);
        }
    }
}

}
