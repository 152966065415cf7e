// Matching typed words with a text that is not in the index, such as the name of a folder or a sender. A pure function.
#pragma once

#include <string>
#include <vector>

namespace yelvin {

// Whether each typed word is a prefix of a word of the text, in any order, ignoring accents and case.
bool has_words(const std::string& text, const std::vector<std::string>& typed);

}
