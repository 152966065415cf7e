// Where the corners of a sheet are that a camera saw from the side.
#pragma once

#include "core/developing/flatten.h"

#include <optional>

namespace yelvin {

// The corners of the one sheet in a photograph, lighter or darker than what it lies on. Nothing where there is none
// that takes up a fifth of the picture.
std::optional<Corners> find_corners(const Raster& raster);

}
