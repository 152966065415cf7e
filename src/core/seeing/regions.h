// Separate items on the glass: photographs, cards, receipts and sheets, each as a turned rectangle. Found against the
// lid, whatever its colour, by what differs from it and by the straight edges of that.
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

// From a preview or any finer picture; those of a finer picture are refined on it. In reading order. Empty where no
// lid is to be seen around anything: the page fills the picture.
std::vector<Region> find_regions(const Raster& raster);

// Regions in reading order: row by row from the top, and from the left within a row. A row is the topmost of those that
// are left and all whose middles lie no lower than half of the lower one's height. The same regions give the same
// order, in whichever order they come.
std::vector<Region> in_rows(std::vector<Region> regions);

// The same item in a finer picture, its edges found anew within `reach_mm`. `region` is in mm of that picture.
Region refined_region(const Raster& raster, const Region& region, double reach_mm = 1.5);

// The least upright rectangle around all of them.
RectMm hull_of(const std::vector<Region>& regions);

}
