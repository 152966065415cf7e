// Which colour mode a page needs: the least that loses nothing. A pure function.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

struct InkNeed {
    Ink least = Ink::Grey;
    double colour_mm2 = 0;    // coloured area, without the paper's tint and colour noise
    double tone_percent = 0;  // share of the page in even middle tones, as in photographs and shading
    double solid_percent = 0; // share of the page in areas more than 2 mm wide that are darker than its white
    double faint_mm2 = 0;     // area of marks that would be lost in black and white
};

// `marks` are those of the same raster.
InkNeed ink_need(const Raster& raster, const Marks& marks);

}
