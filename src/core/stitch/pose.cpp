#include "core/stitch/pose.h"

#include <array>
#include <cmath>
#include <vector>

namespace yelvin {

cv::Point2d Pose::operator()(cv::Point2d point) const {
    const double c = scale * std::cos(radians), s = scale * std::sin(radians);
    return {c * point.x - s * point.y + x, s * point.x + c * point.y + y};
}

Pose Pose::inverse() const {
    Pose out{-radians, 0, 0, 1 / scale};
    const cv::Point2d at = out({x, y});
    out.x = -at.x;
    out.y = -at.y;
    return out;
}

cv::Matx23d Pose::matrix() const {
    const double c = scale * std::cos(radians), s = scale * std::sin(radians);
    return {c, -s, x, s, c, y};
}

Pose operator*(const Pose& outer, const Pose& inner) {
    const cv::Point2d at = outer({inner.x, inner.y});
    return {std::remainder(outer.radians + inner.radians, 2 * CV_PI), at.x, at.y, outer.scale * inner.scale};
}

Pose moved(const Pose& pose, double radians, cv::Point2d centre, cv::Point2d by) {
    Pose about{radians, 0, 0, 1};
    const cv::Point2d at = centre - about(centre) + by;
    about.x = at.x;
    about.y = at.y;
    return about * pose;
}

std::array<cv::Point2d, 4> corners_of(const Pose& pose, SizeMm size) {
    return {pose({0, 0}), pose({size.width, 0}), pose({size.width, size.height}), pose({0, size.height})};
}

cv::Rect2d bounds_of(const Pose& pose, SizeMm size) {
    const auto corners = corners_of(pose, size);
    double left = corners[0].x, right = left, top = corners[0].y, bottom = top;
    for (const cv::Point2d& c : corners) {
        left = std::min(left, c.x);
        right = std::max(right, c.x);
        top = std::min(top, c.y);
        bottom = std::max(bottom, c.y);
    }
    return {left, top, right - left, bottom - top};
}

double corner_distance(const Pose& a, const Pose& b, SizeMm size) {
    const auto ca = corners_of(a, size), cb = corners_of(b, size);
    double most = 0;
    for (size_t i = 0; i < 4; ++i) most = std::max(most, cv::norm(ca[i] - cb[i]));
    return most;
}

Pose rigid_between(const std::vector<cv::Point2d>& from, const std::vector<cv::Point2d>& to) {
    if (from.empty()) return {};
    cv::Point2d mean_from, mean_to;
    for (size_t i = 0; i < from.size(); ++i) {
        mean_from += from[i];
        mean_to += to[i];
    }
    mean_from *= 1.0 / static_cast<double>(from.size());
    mean_to *= 1.0 / static_cast<double>(from.size());
    double along = 0, across = 0;
    for (size_t i = 0; i < from.size(); ++i) {
        const cv::Point2d p = from[i] - mean_from, q = to[i] - mean_to;
        along += p.dot(q);
        across += p.cross(q);
    }
    Pose out{std::atan2(across, along), 0, 0, 1};
    const cv::Point2d at = mean_to - out(mean_from);
    out.x = at.x;
    out.y = at.y;
    return out;
}

}
