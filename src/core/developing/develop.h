// develop(original, recipe) computes a page from its original. All geometry is one cubic resampling; if the recipe only
// turns by quarters and crops, pixels are copied, and an empty recipe returns exactly the original's pixels.
//
// The order is fixed: turn, flatten or crop, straighten; red eyes, light, edge shadows, punch holes, dropped colour;
// tones; printed dots, dust, specks, sharpening; colour mode.
//
// Pure functions, which may be called on any thread.
#pragma once

#include "core/developing/measure.h"
#include "core/developing/recipe.h"

namespace yelvin {

// Returns the page. An original without pixels gives a page without pixels. The values of the recipe must be in range
// (see kept_in_range()). If nothing is changed, the page shares the original's pixels; neither may be written to
// afterwards. Throws cv::Exception if there is not enough memory.
Raster develop(const Raster& original, const Recipe& recipe);

// Measures what the corrections need to know about the whole page, from the original or, for display, from a coarse
// copy.
PageMeasure measured(const Raster& original, const Recipe& recipe);

// The two steps of measured(), for callers that show one page many times: measured_on() measures `coarse`, the original
// at measuring_dpi, with a result that is the same for all recipes with the same measured_by(); measure_threshold()
// adds the threshold if the recipe needs it.
inline constexpr double measuring_dpi = 100;
Recipe measured_by(const Recipe& recipe);
PageMeasure measured_on(const Raster& coarse, const Recipe& recipe);
void measure_threshold(PageMeasure& measure, const Raster& original, const Recipe& recipe);

// A part of the page at some scale, for display. `original` is the size of the original at `dpi`; `part` is in pixels
// of the page at `scale` (1: its own pixels) and may reach beyond the page.
struct PartWanted {
    SizePx original;
    double dpi = 300;
    double scale = 1;
    cv::Rect part;
    // If `level` is a part of a coarse copy: pixels of that copy for one pixel of the original, in both directions; 0:
    // `level` is a copy of the whole original. A copy of whole blocks lacks the remainder at its end, so its size does
    // not tell.
    cv::Point2d level_scale;
    cv::Point level_origin; // where `level` begins in that copy
};
// Returns the part of the original that is needed, with a small margin, in pixels of the original.
cv::Rect original_part(const PartWanted& wanted, const Recipe& recipe);
// Returns the part, developed from `level`, which is the original or a coarse copy. If `level` is black and white, so
// is the result. At scale 1 the result equals that of develop(), pixel for pixel.
Raster develop_part(const Raster& level, const PartWanted& wanted, const Recipe& recipe, const PageMeasure& measure);

}
