// What the shapes of letters say about a word, where the engine took one for another. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <opencv2/core.hpp>

#include <string>
#include <utility>
#include <vector>

namespace yelvin {

// After a small word that no mark follows, or a number that does not begin the line; where nouns are written large
// (`language`), that says nothing. Words without text count as not there: rules that were read, and are let go. A line
// that stands close under `above` goes on with its sentence.
bool is_within_sentence(const TextLine& line, size_t at, const std::string& language, const TextLine* above = nullptr);

// A line's words with their ink, in pieces of any number.
using InkOfWords = std::vector<std::pair<std::string, std::vector<cv::Rect>>>;

// How high the line's tall letters are, in dots: the median of its b d f h k l and large letters, `ascent_px` where it
// has none that stand alone.
double tall_height(const InkOfWords& words, double ascent_px);

// "One" or "one": the first letter, where large and small ones differ in size alone (c o s u v w x z), by how far it
// reaches up from the low letters after it to the height of the line's tall ones. `ink` is the word's, in pieces of any
// number; where the first letter touches the next, a word of low ones is small if it is clearly lower than `tall_px`.
// What is neither clearly large nor small stays as it was read, unless it may be small for another reason
// (`rather_small`); so does a word where there is nothing to measure against.
std::string case_by_height(const std::string& word, std::vector<cv::Rect> ink, double tall_px,
                           bool rather_small = false);

// All known words that a single confusion of worn print makes of it (ni and m, J and l, v and y …), those between small
// and large letters and with marks, too;
// where it is known how usual words are, none rarer than `least_share` (WordList::log_share).
std::vector<std::string> words_alike(const std::string& word, WordList& words, double least_share = -1e9);

}
