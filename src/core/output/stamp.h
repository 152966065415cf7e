// Words on finished pages: where they stand, and how they are drawn.
#pragma once

#include "core/raster/raster.h"
#include "core/ticket/paper_facts.h"

#include <string>
#include <vector>

namespace yelvin {

struct SizePt {
    double width = 0, height = 0;
};

// How much room the words take, in points, lying level.
SizePt stamp_size(const std::string& words, const Stamp& how);

// From points of the words (from their upper left corner, down) to points of the page likewise; 8 mm from its edges. In
// the middle of an edge, turned words run along the left edge for Top, along the right one for Bottom.
cv::Matx23d stamp_place(const Stamp& how, SizePt words, SizePt page);

// Into the dots of a picture, in the stamp's colour as far as the picture has colours.
void draw_stamp(Raster& page, const std::string& words, const Stamp& how);

// A PDF with a page for each, as large as its words: real text, its font embedded.
std::string stamps_as_pdf(const std::vector<std::string>& words, const Stamp& how);

}
