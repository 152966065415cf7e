// A straight line through points along an edge, some of which are strays.
#pragma once

#include <opencv2/core.hpp>

#include <optional>
#include <vector>

namespace yelvin {

struct StraightLine {
    double offset = 0, slope = 0; // y = offset + slope * x
    double at(double x) const { return offset + slope * x; }
};

// Strays (torn corners, dirt) do not bend it: the median of the slopes of all pairs (Theil and Sen; Sen, J. Amer.
// Statist. Assoc. 63, 1968, pp. 1379-1389), then the median offset. Nothing for fewer than 8 points.
std::optional<StraightLine> line_through(const std::vector<cv::Point2d>& points);

}
