// The reading order of a page's lines, and its paragraphs. Pure functions.
#pragma once

#include "core/text/text_layer.h"

#include <string_view>

namespace yelvin {

// Sorts the lines into the order in which a person reads them: across a heading, down one column and then the next,
// along the rows of a table.
std::vector<TextLine> in_reading_order(std::vector<TextLine> lines);

enum class ParagraphKind { Heading, Paragraph, ListItem, Table };
std::string_view paragraph_word(ParagraphKind kind); // "heading", "paragraph", "list-item", "table"

struct Paragraph {
    ParagraphKind kind = ParagraphKind::Paragraph;
    size_t first = 0, count = 0; // lines of the layer
    cv::Rect box;                // px
};

// Divides a layer whose lines are in reading order into paragraphs. Every line is in exactly one, and the order stays.
std::vector<Paragraph> paragraphs_of(const TextLayer& layer);

// Returns the words as running text: the lines of a paragraph joined, hyphens at line ends removed if the word
// continues in small letters, rows of tables and items of lists on lines of their own, an empty line between
// paragraphs.
std::string running_text(const TextLayer& layer);

}
