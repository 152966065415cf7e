// Moving the text of a page along when the page is changed after OCR, and deciding whether it must be read again. Pure
// functions.
#pragma once

#include "core/developing/recipe.h"
#include "core/text/text_layer.h"

namespace yelvin {

// What matters of an OCR result for deciding whether it still holds.
struct ReadAs {
    Recipe recipe;
    bool surely = false; // hardly any word was doubtful, so that other tones or a turn would not improve it
    int words = 0, doubtful = 0;
};
ReadAs read_as(const Recipe& recipe, const TextLayer& layer);

// Whether text that was read with `read.recipe` still holds for the recipe `now`. It does not if more of the paper is
// visible, if a colour is dropped or no longer dropped, if the reading was doubtful and the page was turned or has
// other tones, or if it is flattened differently.
bool words_stay(const ReadAs& read, const Recipe& now, SizePx original, double dpi);

// Returns the words in their new places, without those that were cropped away. words_stay() must hold.
TextLayer carried_words(const TextLayer& layer, const Recipe& recipe, const Recipe& now, SizePx original, double dpi);

}
