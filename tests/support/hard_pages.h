// Printed pages of kinds that are hard to read, with every word as it was typeset. Always the same for one kind and
// seed.
#pragma once

#include "core/raster/raster.h"
#include "support/sheet.h"

#include <functional>
#include <string>
#include <vector>

namespace yelvin::test {

struct HardPage {
    std::string kind;
    Raster scanned, clean;          // the same text: as it comes in, and black on white at 300 dpi
    std::vector<std::string> words; // in reading order, with their punctuation
};

size_t hard_kinds();
std::string hard_kind(size_t index);
// A page of about 110 words, 150 x 110 mm; `index` is 0 to hard_kinds() - 1.
HardPage hard_page(size_t index, unsigned seed);

// The same with other words in another typeface.
using SetWords = std::function<std::vector<Placed>(const Look&)>;
struct SetPage {
    Raster scanned;
    std::vector<Placed> placed;
};
SetPage hard_page_with(size_t index, unsigned seed, const char* face, const SetWords& set);
SetPage clean_page_with(const char* face, const SetWords& set); // 10 pt, black on white at 300 dpi

// Returns the word without the punctuation before and after its letters and digits.
std::string letters_of(const std::string& word);

// How many of `truth` are in `read`, each as often as it occurs there, and how many of `read` are not in `truth`.
// Punctuation before and after the letters does not count.
struct WordCount {
    int found = 0, of = 0, invented = 0;
    WordCount& operator+=(const WordCount& other);
    double share() const { return of ? static_cast<double>(found) / of : 1; }
};
WordCount count_words(const std::vector<std::string>& truth, const std::vector<std::string>& read);

}
