// Words that are in no English dictionary, as they occur in letters and lists: names of places and languages from the
// tables of ISO 3166-2 and ISO 639-3 (Debian's package iso-codes), terms, invented surnames, names of commands.
#pragma once

#include "core/raster/raster.h"
#include "core/text/text_layer.h"
#include "support/sheet.h"

#include <string>
#include <vector>

namespace yelvin::test {

// A page with such words between the sentences of a harbour office, in one of four typefaces; pages with even numbers
// are clean, the others are of one of the hard kinds. `from` and `every` select one of several parts of the words that
// have none in common.
struct RarePage {
    std::string kind;
    Raster scanned;
    std::vector<Placed> placed;
};
RarePage rare_page(unsigned number, size_t from, size_t every);

// A printed word that the engine itself read correctly, and what became of it.
struct Changed {
    std::string printed, read;
    double confidence = 0; // of 100, of the engine
};

// Compares two results for the same page word by word, by their places: `first` by the engine alone, `last` by all of
// OCR. `dpi` is the resolution of both.
struct RareCount {
    int correct = 0, wrong = 0, mended = 0; // read rightly at first, read otherwise, of these put right
    std::vector<Changed> changed;           // rightly read words that are others now
    void add(const std::vector<Placed>& placed, const TextLayer& first, const TextLayer& last, double dpi);
};

}
