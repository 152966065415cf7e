#include "core/ocr/letter_choices.h"

#include <algorithm>

namespace yelvin {

namespace {

constexpr double least = 3; // of 100: less is no choice

struct Swap {
    size_t letter, choice;
    double ratio; // The choice's confidence relative to that of the letter that was read.
};

std::string with(const LetterChoices& letters, const Swap& a, const Swap& b) {
    std::string text;
    for (size_t i = 0; i < letters.size(); ++i)
        text += letters[i][i == a.letter ? a.choice : i == b.letter ? b.choice : 0].text;
    return text;
}

}

std::optional<Word> known_alternative(const Word& word, const LetterChoices& letters, WordList& words) {
    if (words.knows(word.text) != WordList::Known::No) return std::nullopt;
    std::vector<Swap> swaps;
    for (size_t i = 0; i < letters.size(); ++i)
        for (size_t k = 1; k < letters[i].size(); ++k)
            if (letters[i][k].confidence >= least)
                swaps.push_back({i, k, letters[i][k].confidence / std::max(1.0, letters[i][0].confidence)});
    std::ranges::stable_sort(swaps, std::greater{}, &Swap::ratio);
    if (swaps.size() > 12) swaps.resize(12);
    const auto known = [&](const Swap& a, const Swap& b, double ratio) -> std::optional<Word> {
        std::string text = with(letters, a, b);
        if (words.knows(text) != WordList::Known::Yes) return std::nullopt;
        return Word{std::move(text), word.box, word.confidence * (0.6 + 0.4 * std::min(1.0, ratio))};
    };
    for (const Swap& one : swaps)
        if (auto found = known(one, one, one.ratio)) return found;
    for (size_t i = 0; i < swaps.size(); ++i)
        for (size_t k = i + 1; k < swaps.size(); ++k)
            if (swaps[i].letter != swaps[k].letter)
                if (auto found = known(swaps[i], swaps[k], swaps[i].ratio * swaps[k].ratio)) return found;
    return std::nullopt;
}

}
