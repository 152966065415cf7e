// The corners of a sheet that was photographed at an angle. A pure function.
#pragma once

#include "core/developing/flatten.h"
#include "core/raster/raster.h"

#include <optional>

namespace yelvin {

// Returns the corners of the sheet in a photograph, which may be lighter or darker than its background, or nullopt if
// there is no sheet that covers at least a fifth of the picture.
std::optional<Corners> find_corners(const Raster& raster);

}
