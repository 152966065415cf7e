// Separate items on the glass: what stands out from the lid, each as a turned rectangle.
#pragma once

#include "core/raster/raster.h"

#include <vector>

namespace yelvin {

struct Region {
    double x_mm = 0, y_mm = 0; // centre
    double w_mm = 0, h_mm = 0;
    double angle_degrees = 0; // clockwise, -45 to 45
    bool operator==(const Region&) const = default;
};

std::vector<Region> find_regions(const Raster& raster);

}
