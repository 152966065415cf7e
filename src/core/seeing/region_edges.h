// The straight edges of an item on the lid, found along the sides of a rectangle that is about right.
#pragma once

#include "core/seeing/regions.h"

#include <array>

namespace yelvin {

struct FittedRegion {
    Region region;
    std::array<double, 4> support{}; // top, right, bottom, left: share of the side along which an edge was seen
    double seen() const { return (support[0] + support[1] + support[2] + support[3]) / 4; }
};

// `off` is how far each dot is from the lid (CV_32FC1), what belongs to other items set to 0; an edge is where it first
// rises above `least` coming from outside. Edges are looked for within `reach_mm` on either side; a side along which
// too little is seen stays where it was.
FittedRegion fit_edges(const cv::Mat& off, double dpi, const Region& guess, double reach_mm, double least);

}
