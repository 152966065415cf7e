// The corrections between an original and its page. The page is always develop(original, recipe), so undoing a
// correction means resetting its member. A value; pure functions.
#pragma once

#include "core/developing/adjust.h"
#include "core/raster/raster.h"

#include <array>
#include <optional>

namespace yelvin {

// A page that was photographed at an angle: the places of its corners on the turned original (upper left, upper right,
// lower right, lower left; mm) and the size of the flat page.
struct Flatten {
    std::array<PointMm, 4> corners;
    SizeMm size;
    bool operator==(const Flatten&) const = default;
};

struct Recipe {
    int turn_degrees = 0;       // clockwise: 0, 90, 180 or 270
    std::optional<RectMm> crop; // on the turned page; nullopt: all of it
    double tilt_degrees = 0; // how far the content is turned clockwise from straight; it is turned back by this angle
    std::optional<Ink> ink;  // colour mode to which the original is reduced; nullopt: as scanned
    double rim_mm = 0; // width of an edge strip that is filled with what lies just inside it, because a sheet that
                       // is cropped to a standard size is never quite that size
    Adjust adjust;     // tones, edges, cleaning
    std::optional<Flatten> flatten; // instead of a crop
    bool operator==(const Recipe&) const = default;
};

inline constexpr double least_tilt_degrees = 0.1; // a smaller tilt is not corrected: 0.4 mm across an A4 page

struct SizePx {
    int width = 0, height = 0;
    bool operator==(const SizePx&) const = default;
};

// Returns the size of the page in pixels.
SizePx developed_size(const Recipe& recipe, SizePx original, double dpi);

// Returns the map from pixels of the page (the centre of the first pixel is at 0,0) to pixels of the original: 3x3,
// rigid unless the page is flattened.
cv::Matx33d page_to_original(const Recipe& recipe, SizePx original, double dpi);

// Adds a quarter turn (clockwise, or anticlockwise for quarters = -1). A crop and corners stay at the same place of the
// paper.
Recipe turned(Recipe recipe, int quarters, SizeMm original_size);

// Returns the geometry of the recipe alone. Two recipes with the same geometry show the same part of the original in
// the same place.
Recipe geometry_of(const Recipe& recipe);

}
