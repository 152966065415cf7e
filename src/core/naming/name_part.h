// The parts of which file names, folders, e-mail subjects and document properties are made.
#pragma once

#include "core/enum_table.h"

#include <string>
#include <vector>

namespace yelvin {

// One part. Barcode is the text of the separator sheet in front of the document. Heading, PaperDate, Sender, PaperKind
// and Number are read on the page. Slash separates the names of folders.
struct NamePart {
    enum class Kind {
        Words,
        Date,
        Counter,
        Barcode,
        Heading,
        PaperDate,
        Sender,
        PaperKind,
        Number,
        Ticket,
        Slash,
        Last = Slash
    };
    // What a part becomes if its value was not found: nothing, a text or, for PaperDate, the date of scanning.
    enum class Missing { Goes, Words, ScanDate };
    Kind kind = Kind::Words;
    std::string text;   // of Words; or a date's pattern of yyyy, yy, mm and dd
    int digits = 3;     // of a Counter, 1 to 9
    int most_words = 6; // of Heading and Sender, 1 to 20
    Missing if_missing = Missing::Goes;
    std::string instead = {}; // of Missing::Words
    bool operator==(const NamePart&) const = default;
};

// A new kind does not compile without its case, nor without its row in the tables of kinds (enum_table.h).
constexpr bool is_member(NamePart::Kind value) {
    switch (value) {
    case NamePart::Kind::Words:
    case NamePart::Kind::Date:
    case NamePart::Kind::Counter:
    case NamePart::Kind::Barcode:
    case NamePart::Kind::Heading:
    case NamePart::Kind::PaperDate:
    case NamePart::Kind::Sender:
    case NamePart::Kind::PaperKind:
    case NamePart::Kind::Number:
    case NamePart::Kind::Ticket:
    case NamePart::Kind::Slash:
        return true;
    }
    return false;
}
static_assert(has_last<NamePart::Kind>());

// Whether the value of such a part is read on the page.
bool is_read_on_paper(NamePart::Kind kind);
// Whether that is so for any of the parts.
bool needs_reading(const std::vector<NamePart>& parts);

}
