#include "core/stitch/overlap.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

namespace {

std::vector<cv::Point2f> outline(const Pose& pose, SizeMm size) {
    std::vector<cv::Point2f> out;
    for (const cv::Point2d& c : corners_of(pose, size)) out.emplace_back(c);
    return out;
}

}

double overlap_mm2(const Pose& a, SizeMm size_a, const Pose& b, SizeMm size_b) {
    const cv::Rect2d both = bounds_of(a, size_a) & bounds_of(b, size_b);
    if (both.width <= 0 || both.height <= 0) return 0;
    std::vector<cv::Point2f> common;
    return static_cast<double>(cv::intersectConvexConvex(outline(a, size_a), outline(b, size_b), common));
}

}
