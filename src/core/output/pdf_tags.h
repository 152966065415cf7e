// What the parts of a PDF's page are, so that a screen reader can follow them: marked content and structure elements
// (ISO 32000-2, 14.6 to 14.8) as values.
#pragma once

#include "core/reading/page_text.h"

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

struct PdfTag {
    std::string type;              // a standard structure type (14.8.4)
    std::string language;          // by BCP 47; empty: that of what it is in
    std::string alternative;       // of a figure: what is said instead
    std::vector<int> marks;        // the marked content that it consists of
    std::optional<cv::Rect2d> box; // of a figure; px of the page
    std::vector<PdfTag> parts;
};

struct PdfTags {
    std::vector<PdfTag> blocks;             // in the order of reading
    std::vector<std::string> marks;         // of each marked content of the page its type
    std::vector<std::vector<int>> of_words; // of each word of each line its marked content
    // The page's picture is one of the figures where it has no words; else it only decorates them.
    bool is_figure = false;
};

// `pictures`: their places on the page, px. `number` of the page, from 1; `size_px` of its picture.
PdfTags pdf_tags_of(const PageText& text, const std::vector<cv::Rect>& pictures, int number, cv::Size size_px);

// The number that is printed alone at the head or the foot of a page ("12", "- 12 -", "Page 12 of 30").
std::optional<int> printed_number(const PageText& text);

}
