// Using Tesseract's alternative letters. A pure function but for `words`.
#pragma once

#include "core/ocr/word_list.h"
#include "core/text/text_layer.h"

#include <optional>

namespace yelvin {

struct LetterChoice {
    std::string text;
    double confidence = 0; // 0 to 100
};
using LetterChoices = std::vector<std::vector<LetterChoice>>; // for each letter its choices, the reading first

// Returns the likeliest word that the language knows, made by replacing one or two letters of an unknown word by their
// alternatives. Returns nullopt if there is none: a name on a clean page stays as it is.
std::optional<Word> known_alternative(const Word& word, const LetterChoices& letters, WordList& words);

}
