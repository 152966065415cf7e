// Correcting words that worn or smeared print turned into others. Internal to Reader.
#pragma once

#include "core/ocr/word_list.h"
#include "core/text/text_layer.h"

#include <opencv2/core.hpp>

#include <functional>
#include <map>
#include <string>

namespace yelvin {

// The first readings of the lines that were read again, by their index in the layer.
using FirstReadings = std::map<size_t, TextLine>;

// Corrects misread words by comparing their ink with the letters of the same page, and, where these cannot tell, by the
// letters that are confused most often. A word stays as it was read if its ink agrees with it, whether a dictionary has
// it or not. If the ink cannot tell, names and words that the page repeats stay, too. `grey` has 8 bits, is black on
// white and has the layer's coordinates; `words_of` returns the words of a line's language, or null.
void correct_worn_words(TextLayer& layer, const FirstReadings& first, const cv::Mat& grey,
                        const std::function<WordList*(const std::string& language)>& words_of);

}
