// The place of a piece: rotation, translation and (for photographs, if allowed) a slight scale. A value; pure
// functions.
#pragma once

#include "core/raster/units.h"

#include <opencv2/core.hpp>

#include <array>
#include <vector>

namespace yelvin {

// place = scale · R(radians) · point + (x, y). Millimetres, y downwards, so a positive angle is clockwise.
struct Pose {
    double radians = 0, x = 0, y = 0, scale = 1;
    bool operator==(const Pose&) const = default;

    cv::Point2d operator()(cv::Point2d point) const;
    Pose inverse() const;
    cv::Matx23d matrix() const;
};
// Applies `inner` first, then `outer`.
Pose operator*(const Pose& outer, const Pose& inner);

// Turns the pose by `radians` about `centre` and moves it by `by`.
Pose moved(const Pose& pose, double radians, cv::Point2d centre, cv::Point2d by);

// Returns the largest distance in mm between the corners of a piece of `size` in two poses.
double corner_distance(const Pose& a, const Pose& b, SizeMm size);

// Returns the rigid pose that maps `from` to `to` best (least squares; B. Horn, J. Opt. Soc. Am. A 4(4), 1987, in the
// plane).
Pose rigid_between(const std::vector<cv::Point2d>& from, const std::vector<cv::Point2d>& to);

std::array<cv::Point2d, 4> corners_of(const Pose& pose, SizeMm size); // clockwise from the upper left one
cv::Rect2d bounds_of(const Pose& pose, SizeMm size);

}
