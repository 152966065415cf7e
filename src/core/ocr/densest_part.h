// Finding the part of a page that has the most text. A pure function.
#pragma once

#include "core/raster/raster.h"

namespace yelvin {

// Returns the strip of an upright page, `height_mm` high and as wide as the page, that crosses the most strokes: text
// has more of them than pictures. The page must be grey or black and white; the result shares its pixels.
Raster densest_part(const Raster& page, double height_mm);

}
