// Words that worn or smeared print made others, put right. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <opencv2/core.hpp>

#include <functional>

namespace yelvin {

// By the letters as this page has them and else by what is confused most. `grey` has 8 bits, is black on white and has
// the layer's places; `words_of` gives the words of a line's language, null where there are none.
void put_right_worn_words(TextLayer& layer, const cv::Mat& grey,
                          const std::function<WordList*(const std::string& language)>& words_of);

}
