// The corrections between an original and its page, in the fixed order in which develop() applies them. Small data: the
// page is always develop(original, recipe), so taking a correction back is setting its member back.
#pragma once

#include "core/developing/adjust.h"
#include "core/raster/raster.h"

#include <array>
#include <optional>

namespace yelvin {

// A page that was photographed askew: where its corners lie on the turned original (upper left, upper right, lower
// right, lower left; mm), and how large the flat page is.
struct Flatten {
    std::array<PointMm, 4> corners;
    SizeMm size;
    bool operator==(const Flatten&) const = default;
};

struct Recipe {
    int turn_degrees = 0;       // clockwise: 0, 90, 180 or 270
    std::optional<RectMm> crop; // on the turned page; nothing: all of it
    double tilt_degrees = 0;    // how far the content is turned clockwise from straight; it is turned back by as much
    std::optional<Ink> ink;     // brought to this ink kind, if the original has more
    double rim_mm = 0;          // so wide a rim of the page is given what lies just inside it: a sheet that is cut to a
                                // standard size is never quite that size
    Adjust adjust;              // tones, edges, cleaning
    std::optional<Flatten> flatten; // instead of a crop
    bool operator==(const Recipe&) const = default;
};

inline constexpr double least_tilt_degrees = 0.1; // a smaller tilt is left alone: 0.4 mm across an A4 page

struct SizePx {
    int width = 0, height = 0;
    bool operator==(const SizePx&) const = default;
};

SizePx developed_size(const Recipe& recipe, SizePx original, double dpi);

// From pixels of the developed page (centre of the first pixel at 0,0) to pixels of the original; 3x3, rigid but
// for a flattened page.
cv::Matx33d page_to_original(const Recipe& recipe, SizePx original, double dpi);

// The recipe with one more quarter turn (clockwise, or back for quarters = -1); a crop and corners stay
// on the same paper.
Recipe turned(Recipe recipe, int quarters, SizeMm original_size);

// The geometry alone: what two recipes must have in common to show the same part of the original in the same place.
Recipe geometry_of(const Recipe& recipe);

}
