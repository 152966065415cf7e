#include "core/ocr/type_seen.h"

#include "core/raster/ink_pieces.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace yelvin {

namespace {

// Returns the distance between dots that fill whole areas evenly, which only printed dots (a halftone) do.
double screen_among(const std::vector<InkPiece>& spots, cv::Size page, double dpi) {
    const double largest = 0.3 * dpi / 25.4, cell = 4 * dpi / 25.4;
    cv::Mat dots =
        cv::Mat::zeros(static_cast<int>(page.height / cell) + 1, static_cast<int>(page.width / cell) + 1, CV_32S);
    for (const InkPiece& spot : spots) {
        if (spot.box.width > largest || spot.box.height > largest || spot.area < 2) continue;
        ++dots.at<int>(static_cast<int>(spot.box.y / cell), static_cast<int>(spot.box.x / cell));
    }
    std::vector<double> dense; // pixels a square millimetre
    for (int y = 0; y < dots.rows; ++y)
        for (int x = 0; x < dots.cols; ++x)
            if (const double per_mm2 = dots.at<int>(y, x) / 16.0; per_mm2 > 1.5) dense.push_back(per_mm2);
    if (static_cast<double>(dense.size()) < std::max(12.0, 0.02 * dots.rows * dots.cols)) return 0;
    const auto upper = dense.begin() + static_cast<std::ptrdiff_t>(dense.size() * 3 / 4);
    std::ranges::nth_element(dense, upper);
    return dpi / 25.4 / std::sqrt(*upper);
}

bool is_speck(const InkPiece& spot, double x_height) {
    return std::max(spot.box.width, spot.box.height) < 0.17 * x_height;
}

}

TypeSeen look_at_type(const cv::Mat& grey, double under, double dpi) {
    TypeSeen seen;
    const InkPieces ink = InkPieces::darker_than(under, grey);
    const auto& spots = ink.pieces();
    seen.screen_px = screen_among(spots, grey.size(), dpi);
    // In most scripts, most letters have the x-height. Pieces that differ much from a letter in shape or size are
    // ignored.
    std::vector<double> heights;
    double area = 0, around = 0;
    for (const InkPiece& spot : spots) {
        const double height = spot.box.height, width = spot.box.width;
        if (height < 5 || height > 9 * dpi / 25.4 || width > 3 * height || height > 5 * width) continue;
        if (height < 0.5 * dpi / 25.4) continue;
        heights.push_back(height);
        area += spot.area;
        around += 2 * (width + height);
    }
    if (heights.size() < 20) return seen;
    std::ranges::sort(heights);
    // The lower quartile: below it are dots and marks, above it letters with ascenders.
    seen.x_height_px = heights[heights.size() * 2 / 5];
    seen.stroke_px = area / around;
    size_t specks = 0;
    for (const InkPiece& spot : spots) specks += is_speck(spot, seen.x_height_px) ? 1 : 0;
    seen.specks = specks > spots.size() / 4 + 10;
    return seen;
}

void erase_specks(cv::Mat& grey, double under, double x_height_px, double level) {
    InkPieces::darker_than(under, grey).set(grey, cv::saturate_cast<uchar>(level), [&](const InkPiece& piece) {
        return is_speck(piece, x_height_px);
    });
}

}
