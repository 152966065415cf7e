// Red eyes on a photograph: two round red spots in a face. A pure function.
#pragma once

#include "core/developing/adjust.h"
#include "core/raster/raster.h"

#include <vector>

namespace yelvin {

// Returns the pupils in mm of the raster, which needs at least 150 dpi. A pupil is round and red throughout, surrounded
// by skin, has some white or dark of the eye around it, and has a partner of its size at the distance of an eye. Empty
// for pages without colour.
std::vector<Spot> find_red_eyes(const Raster& raster);

}
