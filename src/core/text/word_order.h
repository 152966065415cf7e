// Logical and visual order of words and letters in scripts that run from right to left (Unicode Standard Annex #9), and
// spaces in scripts that have none between words. Pure functions.
#pragma once

#include "core/text/text_layer.h"

namespace yelvin {

// Whether the line is in a right-to-left script such as Hebrew or Arabic: by its language or, if that is not known, by
// most of its words.
bool runs_right_to_left(const TextLine& line);

// Sorts the words into logical order. A right-to-left line begins at its right end; Latin words within it run from left
// to right. Text in this order is displayed as it stands on the paper.
void put_in_logical_order(TextLine& line);

// Returns the letters of a word as they stand on the paper from left to right; accents stay behind their letters.
std::string in_visual_order(const std::string& word);

// Returns a space, or nothing between words of Chinese or Japanese.
std::string_view space_between(const Word& before, const Word& after);

}
