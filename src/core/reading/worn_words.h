// Words that worn or smeared print made others, put right. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <opencv2/core.hpp>

#include <functional>
#include <map>
#include <string>

namespace yelvin {

// What some of a layer's lines, by their places in it, were read as before they were read again.
using FirstReadings = std::map<size_t, TextLine>;

// By the letters as this page has them and else by what is confused most. What was read stays as it is where its ink
// agrees with it, whether a dictionary has it or not; where the ink cannot tell, a name and what the page repeats stay,
// too. `grey` has 8 bits, is black on white and has the layer's places; `words_of` gives the words of a line's
// language, null where there are none.
void put_right_worn_words(TextLayer& layer, const FirstReadings& first, const cv::Mat& grey,
                          const std::function<WordList*(const std::string& language)>& words_of);

}
