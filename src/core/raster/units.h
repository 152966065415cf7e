// Lengths: millimetres, pixels at a resolution, and points of 1/72 inch (ISO 32000-1, 8.3.2.3). Values and pure
// functions.
#pragma once

#include <algorithm>
#include <cmath>

namespace yelvin {

inline constexpr double mm_per_inch = 25.4;
inline constexpr double points_per_inch = 72.0;

inline double mm_to_px(double mm, double dpi) { return mm * dpi / mm_per_inch; }
inline double px_to_mm(double px, double dpi) { return px * mm_per_inch / dpi; }
inline double mm_to_pt(double mm) { return mm * points_per_inch / mm_per_inch; }
inline double px_to_pt(double px, double dpi) { return px * points_per_inch / dpi; }

// Returns the number of pixels of a scanned length: rounded, at least one.
inline int scanned_px(double mm, double dpi) { return std::max(1, static_cast<int>(std::lround(mm_to_px(mm, dpi)))); }

struct SizeMm {
    double width = 0, height = 0;
    bool operator==(const SizeMm&) const = default;
};

struct PointMm {
    double x = 0, y = 0;
    bool operator==(const PointMm&) const = default;
};

// An upright rectangle on the glass or a page; origin at the upper left, y downwards.
struct RectMm {
    double x = 0, y = 0, width = 0, height = 0;
    bool operator==(const RectMm&) const = default;
};

}
