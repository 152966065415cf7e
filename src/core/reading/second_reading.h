// Several readings of one line, of which for each word the surest wins.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

namespace yelvin {

// Whether a word should be looked at once more: the engine is not sure, or the language has no such word.
bool is_doubtful(const Word& word, WordList& words);
// How much of a line's width is of doubtful words.
int doubtful_px(const TextLine& line, WordList& words);

// `first` with the words of `others` where they are surer; all with places on the same page. A word that several
// readings agree on, that the language knows or whose check digits are right counts for more.
TextLine surest(const TextLine& first, const std::vector<TextLine>& others, WordList& words);

}
