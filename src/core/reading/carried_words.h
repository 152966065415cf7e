// The words of a page that was changed since it was read: they move along with what they stand on, and the page is read
// again only where that does not do.
#pragma once

#include "core/developing/recipe.h"
#include "core/reading/text_layer.h"

namespace yelvin {

// How a page was read, as far as it matters for keeping its words.
struct ReadAs {
    Recipe recipe;
    bool surely = false; // hardly a word was doubtful: neither other tones nor a turn would make it better
    int words = 0, doubtful = 0;
};
ReadAs read_as(const Recipe& recipe, const TextLayer& layer);

// Whether what was read of an original holds for it as it is `now`. Not if more of the paper shows than was read, if a
// colour is dropped or no longer dropped, if the reading was unsure and the page lies otherwise or has other tones, or
// if it was flattened otherwise.
bool words_stay(const ReadAs& read, const Recipe& now, SizePx original, double dpi);

// The words in their new places; those that were cut off are left out. For recipes of which words_stay() holds.
TextLayer carried_words(const TextLayer& layer, const Recipe& recipe, const Recipe& now, SizePx original, double dpi);

}
