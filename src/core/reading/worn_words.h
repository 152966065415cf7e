// Words that worn or smeared print made others, put right. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

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
// white and has the layer's places; `words_of` gives the words of a line's language, null where there are none.
void put_right_worn_words(TextLayer& layer, const FirstReadings& first, const cv::Mat& grey,
                          const std::function<WordList*(const std::string& language)>& words_of);

}
