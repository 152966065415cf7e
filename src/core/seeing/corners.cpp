#include "core/seeing/corners.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

// Returns the corners in clockwise order, beginning at the upper left: the corner with the smallest x + y.
std::array<cv::Point2d, 4> in_order(std::array<cv::Point2d, 4> corners) {
    const cv::Point2d middle = (corners[0] + corners[1] + corners[2] + corners[3]) * 0.25;
    std::ranges::sort(corners, {}, [&](const cv::Point2d& p) { return std::atan2(p.y - middle.y, p.x - middle.x); });
    const auto first = std::ranges::min_element(corners, {}, [](const cv::Point2d& p) { return p.x + p.y; });
    std::ranges::rotate(corners, first);
    return corners;
}

// Returns the four sides that contain most of the hull: its outline is simplified until four sides remain.
std::optional<std::array<cv::Point2d, 4>> four_corners(const std::vector<cv::Point>& outline) {
    std::vector<cv::Point> hull, simple;
    cv::convexHull(outline, hull);
    const double around = cv::arcLength(hull, true);
    for (double share = 0.01; share < 0.12; share += 0.005) {
        cv::approxPolyDP(hull, simple, share * around, true);
        if (simple.size() == 4) return in_order({simple[0], simple[1], simple[2], simple[3]});
        if (simple.size() < 4) break;
    }
    return std::nullopt;
}

// Fits each side to the points of the outline near it, and returns the intersections of the sides.
std::array<cv::Point2d, 4> refined(const std::array<cv::Point2d, 4>& corners, const std::vector<cv::Point>& outline) {
    std::array<cv::Vec4f, 4> lines;
    for (size_t i = 0; i < 4; ++i) {
        const cv::Point2d a = corners[i], along = corners[(i + 1) % 4] - a;
        const double size = cv::norm(along);
        std::vector<cv::Point2f> near;
        for (const cv::Point& point : outline) {
            const cv::Point2d d = cv::Point2d(point) - a;
            const double t = d.dot(along) / (size * size), off = std::abs(d.cross(along)) / size;
            if (t > 0.06 && t < 0.94 && off < 0.015 * size) near.emplace_back(point);
        }
        if (near.size() < 12) return corners;
        cv::fitLine(near, lines[i], cv::DIST_HUBER, 0, 0.01, 0.01);
    }
    std::array<cv::Point2d, 4> out = corners;
    for (size_t i = 0; i < 4; ++i) {
        const cv::Vec4f &p = lines[(i + 3) % 4], &q = lines[i];
        const double det = static_cast<double>(p[0]) * q[1] - static_cast<double>(p[1]) * q[0];
        if (std::abs(det) < 1e-3) return corners;
        const double t = ((q[2] - p[2]) * q[1] - (q[3] - p[3]) * q[0]) / det;
        out[i] = {p[2] + t * p[0], p[3] + t * p[1]};
    }
    return out;
}

}

std::optional<Corners> find_corners(const Raster& raster) {
    constexpr double work_px = 1000;
    const double scale = std::min(1.0, work_px / std::max(raster.width_px(), raster.height_px()));
    cv::Mat small = scaled(grey_pixels(raster), scale, scale, cv::INTER_AREA);
    cv::GaussianBlur(small, small, {0, 0}, 2);
    std::optional<std::array<cv::Point2d, 4>> best;
    double best_area = 0.2 * static_cast<double>(small.total());
    for (const int kind : {cv::THRESH_BINARY, cv::THRESH_BINARY_INV}) {
        cv::Mat seen, mask;
        cv::threshold(small, seen, 0, 255, kind | cv::THRESH_OTSU);
        cv::morphologyEx(seen, mask, cv::MORPH_CLOSE, cv::Mat::ones(15, 15, CV_8U));
        std::vector<std::vector<cv::Point>> outlines;
        cv::findContours(mask, outlines, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
        for (const auto& outline : outlines) {
            const double area = cv::contourArea(outline);
            const cv::Rect box = cv::boundingRect(outline);
            const bool whole = box.width >= small.cols - 2 && box.height >= small.rows - 2;
            if (area <= best_area || whole) continue;
            const auto corners = four_corners(outline);
            if (!corners) continue;
            const std::vector<cv::Point2f> shape(corners->begin(), corners->end());
            if (std::abs(cv::contourArea(shape) / area - 1) > 0.08) continue; // not four-sided
            // A sheet has a uniform tone apart from its print; a block of print does not.
            cv::Mat inside(mask.size(), CV_8UC1, cv::Scalar(0));
            cv::fillPoly(inside, std::vector<std::vector<cv::Point>>{outline}, cv::Scalar(255));
            constexpr double least_filled = 0.8;
            if (cv::countNonZero(seen & inside) < least_filled * area) continue;
            best_area = area;
            best = refined(*corners, outline);
        }
    }
    if (!best) return std::nullopt;
    Corners out;
    for (size_t i = 0; i < 4; ++i)
        out[i] = {px_to_mm(((*best)[i].x + 0.5) / scale, raster.dpi),
                  px_to_mm(((*best)[i].y + 0.5) / scale, raster.dpi)};
    if (!makes_a_page(out)) return std::nullopt;
    return out;
}

}
