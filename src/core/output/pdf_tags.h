// The tags of a PDF's page, so that a screen reader can follow it: marked content and structure elements (ISO
// 32000-2, 14.6 to 14.8) as values. Pure functions.
#pragma once

#include "core/text/page_text.h"

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

struct PdfTag {
    std::string type;              // a standard structure type (14.8.4)
    std::string language;          // BCP 47; empty: that of the parent
    std::string alternative;       // of a figure: its alternative text
    std::vector<int> marks;        // ids of its marked content
    std::optional<cv::Rect2d> box; // of a figure; px of the page
    std::vector<PdfTag> parts;
};

struct PdfTags {
    std::vector<PdfTag> blocks;             // in reading order
    std::vector<std::string> marks;         // the type of each marked content
    std::vector<std::vector<int>> of_words; // for each line, the marked content of each word
    // Whether the page's picture is a figure, because the page has no text; otherwise it is an artifact.
    bool is_figure = false;
};

// Returns the tags of a page. `pictures` are places on the page, px; `number` is that of the page, from 1; `size_px`
// that of its picture.
PdfTags pdf_tags_of(const PageText& text, const std::vector<cv::Rect>& pictures, int number, cv::Size size_px);

// Returns the page number that is printed alone at the top or bottom of a page ("12", "- 12 -", "Page 12 of 30").
std::optional<int> printed_number(const PageText& text);

}
