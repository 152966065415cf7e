// Several pages on one: both sides of a card, two pages beside each other or one above the other.
#pragma once

#include "core/raster/raster.h"

#include <vector>

namespace yelvin {

enum class Joined { Beside, Above, OnA4 }; // OnA4: one above the other in the middle of an A4 page

// At the finest resolution of them and with the ink that loses none of them anything. Where sizes differ they are
// centred; what is left over is white. With one page or none there is nothing to join: that page, or an empty one.
Raster joined(const std::vector<Raster>& pages, Joined how);

}
