// The terms by which a word is found: small letters without accents, a number without its points, the parts of what is
// written with hyphens and all of it as one.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

struct Term {
    std::string folded;         // letters and digits, without accents
    std::string accented;       // as it is written, in small letters; empty: the same
    size_t first = 0, last = 0; // of the line's words
    bool beside = false;        // stands at the place of the one before it
    bool operator==(const Term&) const = default;
    const std::string& written() const { return accented.empty() ? folded : accented; }
};

// Of the words of one line. `next_line` is the first word of the line behind it, for what is parted by a hyphen at the
// line's end; may be empty.
std::vector<Term> terms_of(const std::vector<std::string>& words, std::string_view next_line = {});

std::string folded(std::string_view text); // letters and digits only, all of it as one term
bool is_numeric(std::string_view folded);  // has a digit: such a term has no endings

// A length of a word that reading takes for another one: 0 and O, 1, l and I, rn and m, cl and d …; words alike in all
// other letters have the same.
std::string shape_of(std::string_view folded);
std::string backwards(std::string_view folded); // by code points
// One letter other, missing or too many, or two changed about.
bool one_letter_apart(std::string_view a, std::string_view b);

}
