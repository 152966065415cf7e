// Distinguishing the page's own text from text inside a picture. It tells a page with text and pictures from a
// photograph, and decides which lines the page is straightened by. A pure function.
#pragma once

#include "core/seeing/tilt.h"

#include <optional>

namespace yelvin {

struct OwnPrint {
    std::optional<TextTilt> tilt; // of the page's own lines of text; nullopt if it has none
    int letters = 0;              // number of letter-sized components of the polarity that was found
    // Whether at least twenty letters are parts of words and share one stroke width. Always false if the page is not
    // `covered`.
    bool is_text = false;
};

// `work` is the page at up to 200 dpi, with its `marks` and `letters`. `covered`: pictures or tints cover much of the
// page; then letters are the page's own only if they are spread over it or lie on paper that reaches its edge. Dark
// letters are looked for first, then light ones.
OwnPrint own_print(const Raster& work, const Marks& marks, const Letters& letters, bool covered);

}
