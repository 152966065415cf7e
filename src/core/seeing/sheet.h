// Finding the sheet in a picture from a feeder, which shows the roller around it. A pure function.
#pragma once

#include "core/seeing/regions.h"

#include <optional>

namespace yelvin {

// Returns the sheet if the edge of the picture is clearly darker than paper along at least two sides, or nullopt if the
// sheet fills the picture.
std::optional<Region> find_sheet(const Raster& raster);

}
