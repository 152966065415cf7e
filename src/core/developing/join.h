// Joining several pages into one: both sides of a card, two pages beside or above each other. A pure function.
#pragma once

#include "core/raster/raster.h"

#include <vector>

namespace yelvin {

enum class Joined { Beside, Above, OnA4 }; // OnA4: one above the other in the middle of an A4 page

// Joins pages at the finest resolution among them and in the colour mode that loses nothing. Pages of different sizes
// are centred; the rest is white. One page is returned unchanged; no page gives an empty raster.
Raster joined(const std::vector<Raster>& pages, Joined how);

}
