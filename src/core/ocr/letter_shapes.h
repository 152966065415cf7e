// Correcting letters by their shapes where the engine confuses them. Internal to core/ocr. Pure functions.
#pragma once

#include "core/ocr/word_list.h"
#include "core/text/text_layer.h"

#include <opencv2/core.hpp>

#include <string>
#include <utility>
#include <vector>

namespace yelvin {

// Whether a word stands within a sentence: after a word in small letters without a mark behind it, or after a number
// that does not begin the line. Always false in languages that capitalise nouns. Words without text (ruled lines that
// were read) are ignored. A line close below `above` continues its sentence.
bool is_within_sentence(const TextLine& line, size_t at, const std::string& language, const TextLine* above = nullptr);

// The words of a line with the pieces of their ink.
using InkOfWords = std::vector<std::pair<std::string, std::vector<cv::Rect>>>;

// Returns the height of the line's tall letters in pixels: the median over its b d f h k l and capitals, or `ascent_px`
// if none of them stands alone.
double tall_height(const InkOfWords& words, double ascent_px);

// Decides between "One" and "one" where capital and small letter differ in size alone (c o s u v w x z): by how far the
// first letter reaches up from the low letters after it to the height of the line's tall letters. `ink` are the pieces
// of the word's ink; if the first letter touches the next, a word of low letters is small if it is clearly lower than
// `tall_px`. A word that is neither clearly capitalised nor clearly small stays as it was read, unless `prefer_small`
// decides; so does a word without anything to measure against.
std::string case_by_height(const std::string& word, std::vector<cv::Rect> ink, double tall_px,
                           bool prefer_small = false);

// Returns all known words that a single confusion of worn print makes of the word (ni and m, J and l, v and y …),
// including confusions between small and capital letters and with marks. If the language's words were counted, none is
// rarer than `least_share` (WordList::log_share).
std::vector<std::string> confusable_words(const std::string& word, WordList& words, double least_share = -1e9);

}
