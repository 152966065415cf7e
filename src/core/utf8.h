// UTF-8 by ICU, for whatever goes through text code point by code point.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace yelvin {

// Returns the code point that begins at `at` and moves `at` behind it. Returns nullopt for bytes that are not UTF-8, of
// which `at` moves behind those that ICU takes for one fault, at least one. `at` must be less than the text's size.
std::optional<char32_t> next_code_point(std::string_view text, size_t& at);

// Returns the text with its first letter large, by Unicode's simple mapping of cases.
std::string with_first_letter_large(std::string_view text);

// Returns the longest beginning of the text of at most `most_bytes` that cuts no character in two: an accent stays with
// its letter and a joined picture whole (the extended grapheme clusters of Unicode's UAX #29).
std::string_view cut_to_characters(std::string_view text, size_t most_bytes);

}
