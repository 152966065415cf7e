// Fitting the straight edges of an item on the lid, along the sides of an approximate rectangle. Internal to
// core/seeing.
#pragma once

#include "core/seeing/regions.h"

#include <array>

namespace yelvin {

struct FittedRegion {
    Region region;
    std::array<double, 4> support{}; // top, right, bottom, left: share of the side along which an edge was found
    double seen() const { return (support[0] + support[1] + support[2] + support[3]) / 4; }
};

// `off` is the distance of each pixel from the lid (CV_32FC1), 0 for other items; an edge is where it first rises above
// `least` from outside. Edges are looked for within `reach_mm` on either side; a side with too little evidence stays
// where it was.
FittedRegion fit_edges(const cv::Mat& off, double dpi, const Region& guess, double reach_mm, double least);

}
