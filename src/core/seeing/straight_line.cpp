#include "core/seeing/straight_line.h"

#include <algorithm>

namespace yelvin {

std::optional<StraightLine> line_through(const std::vector<cv::Point2d>& points) {
    if (points.size() < 8) return std::nullopt;
    std::vector<double> slopes, offsets;
    const size_t step = std::max<size_t>(1, points.size() / 60);
    for (size_t i = 0; i < points.size(); i += step) {
        for (size_t j = i + step; j < points.size(); j += step) {
            if (points[j].x != points[i].x) slopes.push_back((points[j].y - points[i].y) / (points[j].x - points[i].x));
        }
    }
    const auto median = [](std::vector<double>& values) {
        const auto middle = values.begin() + std::ssize(values) / 2;
        std::ranges::nth_element(values, middle);
        return *middle;
    };
    if (slopes.empty()) return std::nullopt;
    StraightLine line;
    line.slope = median(slopes);
    for (const cv::Point2d& p : points) offsets.push_back(p.y - line.slope * p.x);
    line.offset = median(offsets);
    return line;
}

}
