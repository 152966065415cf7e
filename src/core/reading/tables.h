// The cells of a table that was read.
#pragma once

#include "core/reading/page_text.h"

namespace yelvin {

struct LineWord {
    size_t line = 0, word = 0; // the line of the layer, the word of the line
};

struct Table {
    std::vector<std::vector<std::string>> rows;            // each as long as there are columns; cells may be empty
    std::vector<std::vector<std::vector<LineWord>>> words; // of each cell
    size_t columns() const { return rows.empty() ? 0 : rows.front().size(); }
};

// Rows are words of one height on the page, columns what most rows leave a gap between.
Table table_of(const PageText& text, const TextParagraph& paragraph);

}
