// In which order the lines of a page are read, which of them belong together, and what they are.
#pragma once

#include "core/reading/text_layer.h"

#include <string_view>

namespace yelvin {

// The lines as a person reads them: across a heading, down one column and then the next, along the rows of a table.
std::vector<TextLine> in_reading_order(std::vector<TextLine> lines);

enum class ParagraphKind { Heading, Paragraph, ListItem, Table };
std::string_view paragraph_word(ParagraphKind kind); // "heading", "paragraph", "list-item", "table"

struct Paragraph {
    ParagraphKind kind = ParagraphKind::Paragraph;
    size_t first = 0, count = 0; // lines of the layer
    cv::Rect box;                // px
};

// Of a layer whose lines are in reading order: every line is in one paragraph, in the same order.
std::vector<Paragraph> paragraphs_of(const TextLayer& layer);

// The words as running text: lines of a paragraph joined, hyphens at line ends taken out where the word goes on in
// small letters; a table's rows and a list's items each on a line; an empty line between paragraphs.
std::string running_text(const TextLayer& layer);

}
