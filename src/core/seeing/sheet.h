// A sheet in a picture from a feeder: the camera sees the roller behind it on all sides.
#pragma once

#include "core/seeing/regions.h"

#include <optional>

namespace yelvin {

// The one sheet, where the picture's rim is clearly darker than paper along at least two of its sides; nothing where
// the sheet fills the picture.
std::optional<Region> find_sheet(const Raster& raster);

}
