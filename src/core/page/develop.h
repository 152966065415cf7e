// develop(original, recipe): the page. Pure. All geometry is one resampling (cubic); where the recipe only turns by
// quarters and crops, pixels are copied, and an empty recipe gives back exactly the original's pixels.
#pragma once

#include "core/page/recipe.h"

namespace yelvin {

Raster develop(const Raster& original, const Recipe& recipe);

}
