// The print that is a page's own, rather than something in its picture: what tells a page with text and pictures from a
// photograph, and which lines a page is straightened by.
#pragma once

#include "core/seeing/tilt.h"

#include <optional>

namespace yelvin {

struct OwnPrint {
    std::optional<TextTilt> tilt; // the skew of the page's own text lines; empty if it has none
    int letters = 0;              // number of components of a letter's size, of the polarity that was found
    // Whether at least twenty letters stand within words and share one stroke width. Always false for a page that is
    // not covered.
    bool is_text = false;
};

// `work`: the page at up to 200 dpi, `marks` and `letters` those of it. `covered`: pictures or tints cover much of the
// page. Then letters are the page's own only if they are spread over it or stand on the paper that it shows up to its
// rim; dark letters are looked for first, then light ones.
OwnPrint own_print(const Raster& work, const Marks& marks, const Letters& letters, bool covered);

}
