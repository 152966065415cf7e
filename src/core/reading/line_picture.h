// A line of a page by itself, prepared to be read once more.
#pragma once

#include "core/raster/raster.h"
#include "core/reading/text_layer.h"

namespace yelvin {

enum class Preparation {
    Smoothed, // larger, with smooth edges: for type that is ragged
    Small,    // as small as can be read: what is between the dots does not matter there
    Bolder,   // strokes thickened: for type that is broken
    Plain,    // as it is, for another language
};
inline constexpr int preparations = 3; // of a doubtful line

struct LinePicture {
    Raster picture;
    double scale = 1;   // dots of the picture for each dot of the page
    cv::Point2d origin; // the picture's first dot, in dots of the page
};

// `page` is grey on white; `line` has its places in it. Empty where the line reaches outside the page.
LinePicture line_picture(const Raster& page, const TextLine& line, Preparation preparation);

// A reading of that picture with its places on the page.
TextLine on_page(const TextLayer& read, const LinePicture& picture, const TextLine& line);

}
