// What was read from a logo beside a heading: bars, waves and rings that look a little like letters. Internal.
#pragma once

#include "core/reading/text_layer.h"

#include <opencv2/core.hpp>

#include <functional>
#include <string>

namespace yelvin {

// Whether a word is one of a language, by Tesseract's name of it.
using IsKnown = std::function<bool(const std::string& word, const std::string& language)>;

// Lets go of short words that were not surely read and whose ink is not that of letters: far taller than what stands in
// their line, or with strokes of another width than its letters have; where nothing else stands in the line, than the
// page's have. Lines that have no words left go, too. `grey` has 8 bits, is black on white and has the layer's
// places.
void let_go_what_is_no_text(TextLayer& layer, const cv::Mat& grey, const IsKnown& is_known);

}
