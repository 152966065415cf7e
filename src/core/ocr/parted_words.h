// Dividing two words that were read as one, and removing specks that were read as quotation marks. Internal to Reader.
#pragma once

#include "core/ocr/word_list.h"
#include "core/text/text_layer.h"

#include <opencv2/core.hpp>

#include <optional>
#include <utility>

namespace yelvin {

// Returns two usual words for an unknown word of `line` in small letters such as "committeeresolved", if none of its
// gaps is wider than the one between them and that gap is more like those between the line's words than those between
// its letters, or both words are long. `grey` is CV_8UC1, black on white, with the layer's coordinates.
std::optional<std::pair<Word, Word>> two_words_of(const Word& word, const TextLine& line, const cv::Mat& grey,
                                                  WordList& words);

// Removes quotation marks with low confidence that nothing on the page closes: they are specks.
void remove_lone_quotes(TextLayer& layer);

}
