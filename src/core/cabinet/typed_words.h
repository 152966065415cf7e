// Typed words against a text that is not in the index, such as a folder's or a sender's name.
#pragma once

#include <string>
#include <vector>

namespace yelvin {

// Whether each typed word begins a word of the text, in their order or not. Accents and cases do not matter.
bool has_words(const std::string& text, const std::vector<std::string>& typed);

}
