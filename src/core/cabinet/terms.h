// Deriving index terms from words: small letters without accents, numbers without separators, the parts of hyphenated
// words and the whole. Pure functions.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

struct Term {
    std::string folded;         // letters and digits, without accents
    std::string accented;       // with accents, in small letters; empty if equal to `folded`
    size_t first = 0, last = 0; // indices of the line's words
    bool beside = false;        // is at the same position as the term before it
    bool operator==(const Term&) const = default;
    const std::string& written() const { return accented.empty() ? folded : accented; }
};

// Returns the terms of a line. `next_line` is the first word of the next line, for a word that is hyphenated at the
// line's end; may be empty.
std::vector<Term> terms_of(const std::vector<std::string>& words, std::string_view next_line = {});

std::string folded(std::string_view text); // letters and digits only, as one term
bool is_numeric(std::string_view folded);  // whether it has a digit, so that it has no endings

// Returns a key that is equal for words that OCR confuses (0 and O, 1, l and I, rn and m, cl and d …) and that are
// equal in all other letters.
std::string shape_of(std::string_view folded);
std::string backwards(std::string_view folded); // by code points
// Whether the words differ by one replaced, missing or extra letter, or by two swapped letters.
bool one_letter_apart(std::string_view a, std::string_view b);

}
