// The order of words and letters in scripts that run from right to left (Unicode Standard Annex #9) or that have no
// spaces between words.
#pragma once

#include "core/reading/text_layer.h"

namespace yelvin {

// It is in Hebrew, Arabic and the like, and not only its quotation in another script; where the language is not known,
// most of its words are.
bool runs_right_to_left(const TextLine& line);

// The words as they are said. Where the line runs from right to left that is from its right end, with stretches of
// Latin words within it from left to right, so that a text in this order is shown as it stands on the paper.
void put_in_logical_order(TextLine& line);

// The word's letters as they stand on the paper from left to right; accents stay behind their letters.
std::string in_visual_order(const std::string& word);

// Nothing where Chinese or Japanese goes on without a space.
std::string_view space_between(const Word& before, const Word& after);

}
