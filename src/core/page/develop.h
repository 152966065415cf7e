// develop(original, recipe): the page. Pure. All geometry is one resampling (cubic); where the recipe only turns by
// quarters and crops, pixels are copied, and an empty recipe gives back exactly the original's pixels.
//
// The order is fixed, whatever was switched on first: turn, flatten or crop, straighten; red eyes, light, edge shadows,
// punch holes, the dropped colour; tones; the print's screen, dust, specks, sharpening; ink.
#pragma once

#include "core/page/measure.h"
#include "core/page/recipe.h"

namespace yelvin {

Raster develop(const Raster& original, const Recipe& recipe);

// What the corrections need to know of the whole page. From the original, or for looking from a coarser copy of it.
PageMeasure measured(const Raster& original, const Recipe& recipe);

// A part of the page at another scale, for looking: `level` is the original or a coarser copy of it, `original` the
// size of the original at `dpi`. `part` is in dots of the page at `scale` (1: its own dots) and may reach beyond it.
struct PartWanted {
    SizePx original;
    double dpi = 300;
    double scale = 1;
    cv::Rect part;
};
Raster develop_part(const Raster& level, const PartWanted& wanted, const Recipe& recipe, const PageMeasure& measure);

}
