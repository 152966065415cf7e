#include "core/seeing/region_edges.h"

#include "core/seeing/straight_line.h"

#include <opencv2/imgproc.hpp>

#include <numbers>

namespace yelvin {

namespace {

struct Vec {
    double x = 0, y = 0;
};
Vec rotated(Vec v, double degrees) { // clockwise, y downwards
    const double a = degrees * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
    return {v.x * c - v.y * s, v.x * s + v.y * c};
}

struct EdgeSide {
    double shift_mm = 0, slope = 0; // of the edge at the side's middle, outwards; and along the side
    double support = 0;
};

// One side, viewed with its outside up: `normal_degrees` rotates the region's top to it.
EdgeSide fit_side(const cv::Mat& off, double dpi, const Region& guess, int quarter, double reach_mm, double least) {
    const double length_mm = quarter % 2 == 0 ? guess.w_mm : guess.h_mm,
                 depth_mm = quarter % 2 == 0 ? guess.h_mm : guess.w_mm;
    const double angle = guess.angle_degrees + 90.0 * quarter;
    reach_mm = std::min(reach_mm, depth_mm / 3);
    const int across = std::max(8, static_cast<int>(mm_to_px(length_mm, dpi))),
              down = std::max(6, 2 * static_cast<int>(std::ceil(mm_to_px(reach_mm, dpi))) + 1);
    // The strip's pixel (u, v) is at u along the side and v inwards from the outer end of the search range.
    const Vec along = rotated({1, 0}, angle), inwards = rotated({0, 1}, angle);
    const double begin_u = -px_to_mm((across - 1) / 2.0, dpi),
                 begin_v = -depth_mm / 2 - px_to_mm((down - 1) / 2.0, dpi);
    const double scale = dpi / mm_per_inch;
    const Vec origin{guess.x_mm + along.x * begin_u + inwards.x * begin_v,
                     guess.y_mm + along.y * begin_u + inwards.y * begin_v};
    const cv::Matx23d map{along.x, inwards.x, origin.x * scale - 0.5, along.y, inwards.y, origin.y * scale - 0.5};
    cv::Mat strip;
    cv::warpAffine(off, strip, map, {across, down}, cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_CONSTANT,
                   cv::Scalar::all(0));
    const int average = std::max(1, static_cast<int>(mm_to_px(1.2, dpi))) | 1;
    cv::blur(strip, strip, {average, 1});

    std::vector<cv::Point2d> points;
    const int run = std::max(2, static_cast<int>(mm_to_px(0.35, dpi)));
    const int margin = static_cast<int>(across * 0.04);
    int columns = 0;
    for (int u = margin; u < across - margin; u += std::max(1, across / 160)) {
        ++columns;
        int rise = -1;
        for (int v = 0, above = 0; v < down && rise < 0; ++v) {
            above = strip.at<float>(v, u) > least ? above + 1 : 0;
            if (above >= run) rise = v - run + 1;
        }
        if (rise <= 0) continue; // There is no step, or it begins at the very outside, so no edge is visible.
        // The position at half the height of the step, interpolated between pixels.
        float top = 0;
        for (int v = rise; v < std::min(down, rise + 2 * run + 1); ++v) top = std::max(top, strip.at<float>(v, u));
        const float level = std::max(static_cast<float>(least), 0.45F * top);
        int v = rise;
        while (v < down - 1 && strip.at<float>(v, u) < level) ++v;
        const float upper = strip.at<float>(v - 1, u), lower = strip.at<float>(v, u);
        const double part = lower > upper ? std::clamp((level - upper) / (lower - upper), 0.0F, 1.0F) : 1.0;
        points.emplace_back(u - (across - 1) / 2.0, v - 1 + part - (down - 1) / 2.0);
    }
    EdgeSide side;
    auto line = line_through(points);
    if (!line || columns == 0) return side;
    const double close = std::max(1.0, mm_to_px(0.4, dpi));
    std::erase_if(points, [&](const cv::Point2d& p) { return std::abs(p.y - line->at(p.x)) > close; });
    side.support = static_cast<double>(points.size()) / columns;
    if (const auto again = line_through(points)) line = again;
    side.slope = line->slope;
    side.shift_mm = -px_to_mm(line->offset, dpi);
    return side;
}

}

FittedRegion fit_edges(const cv::Mat& off, double dpi, const Region& guess, double reach_mm, double least) {
    constexpr double enough = 0.25;
    FittedRegion out{guess, {}};
    std::array<EdgeSide, 4> sides;
    double slope = 0, weight = 0;
    for (int i = 0; i < 4; ++i) {
        const auto at = static_cast<size_t>(i);
        EdgeSide& side = sides[at] = fit_side(off, dpi, guess, i, reach_mm, least);
        out.support[at] = side.support;
        if (side.support < enough) {
            side = {};
            continue;
        }
        const double length = i % 2 == 0 ? guess.w_mm : guess.h_mm,
                     counts = side.support * side.support * length * length;
        slope += counts * std::atan(side.slope);
        weight += counts;
    }
    const double left = -guess.w_mm / 2 - sides[3].shift_mm, right = guess.w_mm / 2 + sides[1].shift_mm,
                 top = -guess.h_mm / 2 - sides[0].shift_mm, bottom = guess.h_mm / 2 + sides[2].shift_mm;
    const Vec moved = rotated({(left + right) / 2, (top + bottom) / 2}, guess.angle_degrees);
    out.region.x_mm += moved.x;
    out.region.y_mm += moved.y;
    out.region.w_mm = std::max(1.0, right - left);
    out.region.h_mm = std::max(1.0, bottom - top);
    if (weight > 0) out.region.angle_degrees += slope / weight * 180 / std::numbers::pi;
    return out;
}

}
