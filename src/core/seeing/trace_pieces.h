// The pieces of the marks on a side that are as large as writing. Pure functions. Internal to traces.
#pragma once

#include "core/raster/ink_pieces.h"
#include "core/seeing/marks.h"

#include <opencv2/core.hpp>

#include <vector>

namespace yelvin {

struct TracePiece {
    cv::Rect box; // px of the marks
    int area_px = 0;
    std::vector<InkPieces::Run> runs; // its pixels
};

// Returns the connected pieces of `mask` (CV_8UC1) without specks, punch holes, and what lies at the sheet's rim.
std::vector<TracePiece> large_pieces(const cv::Mat& mask, double dpi);

// Adds the large letters of the marks to `mask`, from which long lines were removed: a large letter has long lines,
// too, but it is not long as a whole.
void put_letters_back(cv::Mat& mask, const Marks& marks);

}
