// Finding separate items on the glass (photographs, cards, receipts, sheets) as turned rectangles: areas with straight
// edges that differ from the lid, whatever its colour. Pure functions.
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

// Returns the items of a preview or a finer picture, in reading order; those of a finer picture are refined on it.
// Empty if no lid is visible, because the page fills the picture.
std::vector<Region> find_regions(const Raster& raster);

// Sorts regions into reading order: rows from the top, and from the left within a row. A row is the topmost remaining
// region and all whose centres are no lower than half the height of the lower one. The result does not depend on the
// input order.
std::vector<Region> in_rows(std::vector<Region> regions);

// Returns the item with its edges found again in a finer picture, within `reach_mm`. `region` is in mm of that picture.
Region refined_region(const Raster& raster, const Region& region, double reach_mm = 1.5);

// Returns the bounding box of all regions.
RectMm hull_of(const std::vector<Region>& regions);

}
