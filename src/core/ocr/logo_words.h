// Removing words that were read from a logo, whose bars, waves and rings resemble letters. Internal to Reader.
#pragma once

#include "core/text/text_layer.h"

#include <opencv2/core.hpp>

#include <functional>
#include <string>

namespace yelvin {

// Whether a word is one of a language, by Tesseract's name of it.
using IsKnown = std::function<bool(const std::string& word, const std::string& language)>;

// Removes short words that were read with low confidence and whose ink is not like that of letters: it is much taller
// than the other words of the line, or its strokes have another width. A word that is alone in its line is compared
// with the page's words. Lines without words are removed, too. `grey` is CV_8UC1, black on white, and has the same
// coordinates as the layer.
void remove_logo_words(TextLayer& layer, const cv::Mat& grey, const IsKnown& is_known);

}
