// Which ink kind a page needs: the least that loses nothing.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

struct InkNeed {
    Ink least = Ink::Grey;
    double colour_mm2 = 0;    // area that is coloured, the paper's own tint and colour noise left out
    double tone_percent = 0;  // share of the page in even middle tones, as photographs and shading have
    double solid_percent = 0; // share of the page in areas over 2 mm wide that are darker than its white
    double faint_mm2 = 0;     // area of marks that turning to black would lose
};

// `marks` are those of the same raster.
InkNeed ink_need(const Raster& raster, const Marks& marks);

}
