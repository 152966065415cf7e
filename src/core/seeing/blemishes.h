// What may be wrong with a page without anybody having meant it.
#pragma once

#include "core/developing/measure.h"
#include "core/seeing/marks.h"

namespace yelvin {

struct Blemishes {
    double contrast_percent = 0;       // of the print against the paper: below `faint_contrast_percent` it is faint
    double show_through_percent = 0;   // share of the page under print that shines through from the other side
    std::array<bool, 4> cut_off{};     // writing that runs off the left, top, right, bottom edge
    std::array<double, 4> shadow_mm{}; // depth of the shadow along the left, top, right, bottom edge
    int punch_holes = 0;
    double uneven_percent = 0; // how much darker the darkest part of the paper is
    double screen_lpi = 0;     // a print's screen, lines per inch
    bool operator==(const Blemishes&) const = default;
};
inline constexpr double faint_contrast_percent = 45, much_show_through_percent = 0.4, uneven_from_percent = 15;

// `marks` and `letters` are those of `raster`, 100 to 200 dpi. The screen takes the full resolution: screen_of().
Blemishes find_blemishes(const Raster& raster, const Marks& marks, const Letters& letters);

// The screen of a printed picture, as lines per inch; 0 where there is none, or where the resolution does not show it.
double screen_of(const Raster& original);

}
