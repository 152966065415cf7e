// UTF-8 by ICU, for code that walks text by code points. Pure functions.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace yelvin {

// Returns the code point that begins at `at` and moves `at` past it. For bytes that are not UTF-8, returns nullopt and
// moves `at` past those that ICU counts as one error, at least one byte. `at` must be less than the text's size.
std::optional<char32_t> next_code_point(std::string_view text, size_t& at);

// Returns the text with its first letter as a capital, by Unicode's simple case mapping.
std::string capitalised(std::string_view text);

// Returns the longest beginning of the text of at most `most_bytes` that cuts no character in two: an accent stays with
// its letter and a joined picture whole (the extended grapheme clusters of Unicode's UAX #29).
std::string_view cut_to_characters(std::string_view text, size_t most_bytes);

}
