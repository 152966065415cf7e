// Fitting a straight line to points along an edge, some of which are outliers. A pure function.
#pragma once

#include <opencv2/core.hpp>

#include <optional>
#include <vector>

namespace yelvin {

struct StraightLine {
    double offset = 0, slope = 0; // y = offset + slope * x
    double at(double x) const { return offset + slope * x; }
};

// Uses the median of the slopes of all pairs (Theil and Sen; Sen, J. Amer. Statist. Assoc. 63, 1968, pp. 1379-1389) and
// then the median offset, so that outliers (torn corners, dirt) have no influence. Returns nullopt for fewer than 8
// points.
std::optional<StraightLine> line_through(const std::vector<cv::Point2d>& points);

}
