// Combining several readings of a line: for each word the most certain one is taken. Pure functions but for `words`.
#pragma once

#include "core/ocr/word_list.h"
#include "core/text/text_layer.h"

namespace yelvin {

// Whether a word should be read again: its confidence is low, or the language does not have it.
bool is_doubtful(const Word& word, WordList& words);
// Returns the width of the doubtful words of a line, px.
int doubtful_px(const TextLine& line, WordList& words);

// Returns `first` with words of `others` where those are more certain. All readings have the same coordinates. A word
// on which several readings agree, that the language knows or whose check digits are right counts as more certain.
TextLine surest(const TextLine& first, const std::vector<TextLine>& others, WordList& words);

}
