// The cells of a table. A pure function.
#pragma once

#include "core/text/page_text.h"

namespace yelvin {

struct LineWord {
    size_t line = 0, word = 0; // indices: the line in the layer, the word in the line
};

struct Table {
    std::vector<std::vector<std::string>> rows;            // all of the same length; cells may be empty
    std::vector<std::vector<std::vector<LineWord>>> words; // of each cell
    size_t columns() const { return rows.empty() ? 0 : rows.front().size(); }
};

// Divides a paragraph into cells: a row is the words at one height of the page; columns are separated by gaps that most
// rows have.
Table table_of(const PageText& text, const TextParagraph& paragraph);

}
