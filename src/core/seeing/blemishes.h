// Blemishes of a page: what is probably not intended. Pure functions.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

struct Blemishes {
    double contrast_percent = 0;       // of print against paper; below faint_contrast_percent the print is faint
    double show_through_percent = 0;   // share of the page with print that shines through from the other side
    std::array<bool, 4> cut_off{};     // whether text is cut off at the left, top, right, bottom edge
    std::array<double, 4> shadow_mm{}; // depth of the shadow along the left, top, right, bottom edge
    int punch_holes = 0;
    double uneven_percent = 0; // how much darker the darkest part of the paper is
    double screen_lpi = 0;     // printed dots, lines per inch; 0: none
    bool operator==(const Blemishes&) const = default;
};
inline constexpr double faint_contrast_percent = 45, much_show_through_percent = 0.4, uneven_from_percent = 15;

// Finds everything but screen_lpi, for which screen_of() needs the full resolution. `marks` and `letters` are those of
// `raster`, which has 100 to 200 dpi.
Blemishes find_blemishes(const Raster& raster, const Marks& marks, const Letters& letters);

// Returns the frequency of printed dots in lines per inch; 0 if there are none or the resolution is too low to see
// them.
double screen_of(const Raster& original);

}
