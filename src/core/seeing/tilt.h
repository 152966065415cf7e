// Measuring the tilt of the lines of text on a page. Pure functions.
//
// Letters are connected components; the feet (and heads) of the letters of one line lie on a straight line. A sweep
// finds the angle at which the projections of these points fall into the fewest bins. Then each line is fitted by least
// squares without its outliers (descenders), and the slopes of the lines are averaged with their spread as weight.
#pragma once

#include "core/seeing/marks.h"

#include <optional>

namespace yelvin {

struct TextTilt {
    double degrees = 0;  // clockwise, within -15 to 15
    bool across = false; // whether the lines run up or down: the page lies sideways
    int lines = 0, letters = 0;
};

// Each returns nullopt if there are too few letters in lines.
std::optional<TextTilt> text_tilt(const Raster& raster);
std::optional<TextTilt> text_tilt(const Letters& found); // of a page at up to 200 dpi

}
