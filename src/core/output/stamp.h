// Stamps on finished pages: their places, and drawing them into pictures and PDFs. Thread-safe.
#pragma once

#include "core/raster/raster.h"
#include "core/ticket/file_options.h"

#include <string>
#include <vector>

namespace yelvin {

struct SizePt {
    double width = 0, height = 0;
};

// Returns the size of the stamp's text in points, not turned.
SizePt stamp_size(const std::string& words, const Stamp& how);

// Returns the map from points of the text (origin at its upper left corner, y downwards) to points of the page, 8 mm
// from its edges. In the middle of an edge, turned text runs along the left edge for Top and along the right edge for
// Bottom.
cv::Matx23d stamp_place(const Stamp& how, SizePt words, SizePt page);

// Draws the stamp into the pixels of a page, in the stamp's colour as far as the page has colours.
void draw_stamp(Raster& page, const std::string& words, const Stamp& how);

// Returns a PDF with one page for each text, of the text's size: real text with an embedded font.
std::string stamps_as_pdf(const std::vector<std::string>& words, const Stamp& how);

}
