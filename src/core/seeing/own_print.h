// The print that is a page's own, rather than something in its picture: what tells a page with text and pictures from a
// photograph, and which lines a page is straightened by.
#pragma once

#include "core/seeing/tilt.h"

#include <optional>

namespace yelvin {

struct OwnPrint {
    std::optional<TextTilt> tilt; // of its lines; nothing: no lines of the page's own
    int letters = 0;              // marks of a letter's size; of light print on a dark page, those
    // Twenty letters or more within words, drawn by a common stroke. Looked for only on a covered page.
    bool is_text = false;
};

// `work`: the page at up to 200 dpi, `marks` and `letters` those of it. `covered`: pictures or tints cover much of the
// page. Then letters are the page's own only if they are spread over it or stand on the paper that it shows up to its
// rim; dark letters are looked for first, then light ones.
OwnPrint own_print(const Raster& work, const Marks& marks, const Letters& letters, bool covered);

}
