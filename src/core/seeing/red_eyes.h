// Red eyes on a photograph: two round spots of flash red in a face.
#pragma once

#include "core/developing/adjust.h"
#include "core/raster/raster.h"

#include <vector>

namespace yelvin {

// mm of the raster; from 150 dpi up. A pupil counts when it is round and red through, lies in skin, shows some white or
// dark of the eye around it, and has a partner of its size at an eye's distance. Empty for pages without colour.
std::vector<Spot> find_red_eyes(const Raster& raster);

}
