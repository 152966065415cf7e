// What names, subjects and properties are put together from.
#pragma once

#include <string>
#include <vector>

namespace yelvin {

// A barcode is the text of the separator sheet in front of the document. Dates are written with yyyy, yy, mm, dd; a
// counter has 1 to 9 digits. What is read on the paper: its own date, the first heading and the sender, cut to so many
// words, what kind of paper it is, its number. A slash parts the names of folders.
struct NamePart {
    enum class Kind { Words, Date, Counter, Barcode, Heading, PaperDate, Sender, PaperKind, Number, Ticket, Slash };
    // What the place of something becomes that was not read (a barcode's too): nothing, words, or, of a date, that of
    // scanning.
    enum class Missing { Goes, Words, ScanDate };
    Kind kind = Kind::Words;
    std::string text; // the words, or the date's pattern
    int digits = 3;
    int most_words = 6; // 1 to 20
    Missing if_missing = Missing::Goes;
    std::string instead = {}; // of Missing::Words
    bool operator==(const NamePart&) const = default;
};

bool is_read_on_paper(NamePart::Kind kind);
bool needs_reading(const std::vector<NamePart>& parts); // any of them is read on the paper

}
