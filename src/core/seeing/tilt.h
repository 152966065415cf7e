// How far the lines of text on a page are turned from straight.
//
// Letters are taken as connected components; the feet (and heads) of the letters of one line lie on one straight line.
// A sweep finds the angle at which the projections of those points crowd into the fewest bins; then each line found is
// fitted by least squares without its outliers (descenders), and the lines' slopes are averaged by their spread.
#pragma once

#include "core/seeing/marks.h"

#include <optional>

namespace yelvin {

struct TextTilt {
    double degrees = 0;  // clockwise, within -15 to 15
    bool across = false; // the lines run up or down the page: it lies sideways
    int lines = 0, letters = 0;
};

// Nothing where there are too few letters in lines to tell.
std::optional<TextTilt> text_tilt(const Raster& raster);
std::optional<TextTilt> text_tilt(const Letters& found); // at up to 200 dpi

}
