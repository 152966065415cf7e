// Words that were read as one where two stand close together, and marks of dirt before a word. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <opencv2/core.hpp>

#include <optional>
#include <utility>

namespace yelvin {

// "committeeresolved": two usual words for an unknown one of `line` in small letters, where none of its gaps is wider
// than the one between them. That is rather like those between the line's words than like those between their letters,
// or both words are long. `grey` has 8 bits, is black on white and has the word's place.
std::optional<std::pair<Word, Word>> two_words_of(const Word& word, const TextLine& line, const cv::Mat& grey,
                                                  WordList& words);

// A mark of quotation that was hardly read and that nothing closes on the page is a speck.
void let_go_lone_quotes(TextLayer& layer);

}
