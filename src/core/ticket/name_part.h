// What names, subjects and properties are put together from.
#pragma once

#include <string>

namespace yelvin {

// A barcode is the text of the separator sheet in front of the document. Dates are written with yyyy, yy, mm, dd; a
// counter has 1 to 9 digits; the heading is the first that was read in the document, cut to so many words.
struct NamePart {
    enum class Kind { Words, Date, Counter, Barcode, Heading };
    Kind kind = Kind::Words;
    std::string text; // the words, or the date's pattern
    int digits = 3;
    int most_words = 6; // 1 to 20
    bool operator==(const NamePart&) const = default;
};

}
