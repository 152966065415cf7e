// develop(original, recipe): the page. Pure. All geometry is one resampling (cubic); where the recipe only turns by
// quarters and crops, pixels are copied, and an empty recipe gives back exactly the original's pixels.
//
// The order is fixed, whatever was switched on first: turn, flatten or crop, straighten; red eyes, light, edge shadows,
// punch holes, the dropped colour; tones; the print's screen, dust, specks, sharpening; ink.
#pragma once

#include "core/developing/measure.h"
#include "core/developing/recipe.h"

namespace yelvin {

// Fails never: an original without pixels gives a page without pixels, and what is out of range in the recipe is for
// kept_in_range(). The page may share its pixels with the original where nothing is changed; neither is written to
// afterwards. Throws cv::Exception where there is no memory for the page.
Raster develop(const Raster& original, const Recipe& recipe);

// What the corrections need to know of the whole page. From the original, or for looking from a coarser copy of it.
PageMeasure measured(const Raster& original, const Recipe& recipe);

// The same in its two steps, for those who look at one page again and again: what `coarse`, the original at
// `measuring_dpi`, says, which is the same for all recipes with the same measured_by(); and the threshold.
inline constexpr double measuring_dpi = 100;
Recipe measured_by(const Recipe& recipe);
PageMeasure measured_on(const Raster& coarse, const Recipe& recipe);
void measure_threshold(PageMeasure& measure, const Raster& original, const Recipe& recipe); // where it is asked for

// A part of the page at another scale, for looking: `level` is the original or a coarser copy of it, `original` the
// size of the original at `dpi`. `part` is in dots of the page at `scale` (1: its own dots) and may reach beyond it.
struct PartWanted {
    SizePx original;
    double dpi = 300;
    double scale = 1;
    cv::Rect part;
    // Dots of the copy that `level` is taken from for one of the original, across and down; 0: `level` is a copy of all
    // of the original. A copy of whole blocks of dots lacks what is left over at its end, so its size does not say
    // this.
    cv::Point2d level_scale;
    cv::Point level_origin; // where `level` begins in that copy
};
// The part of the original that is needed for it, in dots of the original, a little margin with it.
cv::Rect original_part(const PartWanted& wanted, const Recipe& recipe);
// Returns that part. Of a black `level` the part is black too; at scale 1 it is dot for dot what develop() gives.
Raster develop_part(const Raster& level, const PartWanted& wanted, const Recipe& recipe, const PageMeasure& measure);

}
