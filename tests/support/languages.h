// Printed pages in languages whose data are in Debian, drawn with known words: accents, other scripts, lines from right
// to left, and text without spaces.
#pragma once

#include "core/raster/raster.h"

#include <string>
#include <vector>

namespace yelvin::test {

struct LanguagePage {
    std::string language;                        // Tesseract's name
    Raster page;                                 // 150 x 110 mm, 300 dpi, black on white
    std::vector<std::vector<std::string>> lines; // of words, as they are said
    std::string text() const;                    // words with spaces, or without where the language has none
};

// eng, deu, fra, pol, ell, heb, ara, jpn, chi_sim or kor.
std::vector<std::string> page_languages();
// The page is the same for the same seed.
LanguagePage language_page(const std::string& language, unsigned seed);
// Two languages on one page, with a paragraph each.
LanguagePage two_languages(const std::string& first, const std::string& second, unsigned seed);

}
