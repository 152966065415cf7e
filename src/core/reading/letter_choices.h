// What else the letters of a word may be, in the engine's own opinion.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <optional>

namespace yelvin {

struct LetterChoice {
    std::string text;
    double confidence = 0; // 0 to 100
};
using LetterChoices = std::vector<std::vector<LetterChoice>>; // for each letter, what was read first

// A word that the language knows instead of one that it does not, by taking another choice for one or two letters: the
// likeliest such word. Nothing where the engine sees no other letter there: a name on a clean page stays as it is.
std::optional<Word> known_instead(const Word& word, const LetterChoices& letters, WordList& words);

}
