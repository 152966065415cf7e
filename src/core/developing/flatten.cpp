#include "core/developing/flatten.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yelvin {

cv::Matx33d projection(const std::array<cv::Point2d, 4>& from, const std::array<cv::Point2d, 4>& to) {
    cv::Matx<double, 8, 8> a = cv::Matx<double, 8, 8>::zeros();
    cv::Vec<double, 8> b;
    for (int i = 0; i < 4; ++i) {
        const cv::Point2d &p = from[static_cast<size_t>(i)], &q = to[static_cast<size_t>(i)];
        const std::array<double, 8> x{p.x, p.y, 1, 0, 0, 0, -p.x * q.x, -p.y * q.x},
            y{0, 0, 0, p.x, p.y, 1, -p.x * q.y, -p.y * q.y};
        for (int k = 0; k < 8; ++k) {
            a(2 * i, k) = x[static_cast<size_t>(k)];
            a(2 * i + 1, k) = y[static_cast<size_t>(k)];
        }
        b[2 * i] = q.x;
        b[2 * i + 1] = q.y;
    }
    cv::Mat h;
    if (!cv::solve(a, b, h, cv::DECOMP_SVD)) return cv::Matx33d::eye();
    const auto at = [&](int i) { return h.at<double>(i); };
    return {at(0), at(1), at(2), at(3), at(4), at(5), at(6), at(7), 1};
}

namespace {

double length(const PointMm& a, const PointMm& b) { return std::hypot(a.x - b.x, a.y - b.y); }

}

bool makes_a_page(const Corners& corners) {
    for (size_t i = 0; i < 4; ++i) {
        const PointMm &a = corners[i], &b = corners[(i + 1) % 4], &c = corners[(i + 2) % 4];
        const double turn = (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);
        constexpr double least_side_mm = 5;
        if (length(a, b) < least_side_mm || turn <= 0.02 * length(a, b) * length(b, c)) return false;
    }
    return true;
}

SizeMm flat_page_size(const Corners& corners, SizeMm picture) {
    const double wide = (length(corners[0], corners[1]) + length(corners[3], corners[2])) / 2,
                 high = (length(corners[0], corners[3]) + length(corners[1], corners[2])) / 2;
    double ratio = wide / high;
    // The paper's notation: m1 upper left, m2 upper right, m3 lower left, m4 lower right, about the picture's middle.
    const auto point = [&](size_t i) {
        return cv::Vec3d(corners[i].x - picture.width / 2, corners[i].y - picture.height / 2, 1);
    };
    const cv::Vec3d m1 = point(0), m2 = point(1), m3 = point(3), m4 = point(2);
    const double k2 = m1.cross(m4).dot(m3) / m2.cross(m4).dot(m3), k3 = m1.cross(m4).dot(m2) / m3.cross(m4).dot(m2);
    const cv::Vec3d n2 = k2 * m2 - m1, n3 = k3 * m3 - m1;
    constexpr double slight = 0.02; // A perspective so small that the sides cannot determine it.
    if (std::abs(n2[2]) > slight && std::abs(n3[2]) > slight) {
        const double f2 = -(n2[0] * n3[0] + n2[1] * n3[1]) / (n2[2] * n3[2]);
        if (f2 > 0) {
            const auto squared = [&](const cv::Vec3d& n) { return (n[0] * n[0] + n[1] * n[1]) / f2 + n[2] * n[2]; };
            const double seen = std::sqrt(squared(n2) / squared(n3));
            if (seen > ratio / 1.6 && seen < ratio * 1.6) ratio = seen;
        }
    }
    for (const double sheet : {std::numbers::sqrt2, 11 / 8.5}) {
        for (const double standard : {sheet, 1 / sheet}) {
            if (std::abs(ratio / standard - 1) < 0.025) {
                const double width = std::max(wide, high * standard);
                return {width, width / standard};
            }
        }
    }
    const double width = std::max(wide, high * ratio);
    return {width, width / ratio};
}

}
