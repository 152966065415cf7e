// Pictures of single lines, prepared for another reading. Pure functions.
#pragma once

#include "core/raster/raster.h"
#include "core/text/text_layer.h"

namespace yelvin {

enum class Preparation {
    Smoothed, // enlarged with smooth edges, for ragged type
    Small,    // as small as the engine can read, so that fine details do not matter
    Bolder,   // with thicker strokes, for broken type
    Plain,    // unchanged, for another language
};
inline constexpr int preparations = 3; // how many of them a doubtful line is read with, from the first

struct LinePicture {
    Raster picture;
    double scale = 1;   // pixels of the picture for each pixel of the page
    cv::Point2d origin; // the picture's first pixel, in pixels of the page
};

// Returns the picture of a line. `page` is grey on white, and `line` has its coordinates. Empty if the line reaches
// beyond the page.
LinePicture line_picture(const Raster& page, const TextLine& line, Preparation preparation);

// Maps the reading of such a picture to coordinates of the page.
TextLine on_page(const TextLayer& read, const LinePicture& picture, const TextLine& line);

}
