// What the shapes of letters say about a word, where the engine took one for another. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <opencv2/core.hpp>

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// After a small word that no mark follows, or a number that does not begin the line; where nouns are written large
// (`language`), that says nothing. Words without text count as not there: rules that were read, and are let go. A line
// that stands close under `above` goes on with its sentence.
bool is_within_sentence(const TextLine& line, size_t at, const std::string& language, const TextLine* above = nullptr);

// "One" or "one": the first letter, where large and small ones differ in size alone (c o s u v w x z), by its height
// against that of the low ones after it. `ink` is the word's, in pieces of any number; where the first letter touches
// the next, a word of low ones is small if it is clearly lower than its line's letters are above the baseline
// (`ascent_px`). What is
// neither clearly large nor small is small `within_sentence`. The word as it was where there is nothing to measure
// against.
std::string case_by_height(const std::string& word, std::vector<cv::Rect> ink, double ascent_px,
                           bool within_sentence = false);

// A word that is not known and not clearly read, as the only known one of those that look like it by a single confusion
// of worn print (ni and m, J and l, v and y …); doubtful then. Nothing where there are none or several of them.
std::optional<Word> known_by_shape(const Word& word, WordList& words);

// All known words that a single such confusion makes of it, those between small and large letters and with marks, too;
// where it is known how usual words are, none rarer than `least_share` (WordList::log_share).
std::vector<std::string> words_alike(const std::string& word, WordList& words, double least_share = -1e9);

}
