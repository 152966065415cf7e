// The corrections that change pixels in place, of a whole page or of a part of it. Pixels are CV_8UC1 (grey) or CV_8UC3
// (BGR), never black and white; a correction that needs colour does nothing to grey ones. The matrix must own its
// pixels, because those of the original may not be written to. Thread-safe for different matrices.
#pragma once

#include "core/developing/measure.h"
#include "core/developing/recipe.h"

namespace yelvin {

// The place of the pixels on the page, in pixels at their resolution.
struct Lay {
    double dpi = 300;
    cv::Point origin;
    SizePx page;
};

// Makes the paper equally bright. The light is divided out in linear light (core/raster/srgb.h), because a sensor sees
// reflectance times illumination. Does nothing if `measure` has no light or one with another number of channels.
void even_out_light(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay);
void lift_edge_shadows(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay);
void fill_holes(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay);
// Darkens the red pupils at `on_page` (mm of the page). CV_8UC3 only.
void calm_red_eyes(cv::Mat& pixels, const std::vector<Spot>& on_page, const Lay& lay);
// Makes pixels that are tinted like the picked colour as light as the paper; black on top of it stays. `reach_percent`
// is the tolerance from 0 (nothing) to 100. CV_8UC3 only.
void drop_colour(cv::Mat& pixels, const PickedColour& colour, double reach_percent, const PageMeasure& measure);
// Smooths printed dots with a low pass that suppresses their period. `screen_lpi`: lines per inch, above 0.
void take_out_screen(cv::Mat& pixels, double screen_lpi, double dpi);
// Removes light specks and hairs up to `widest_mm` wide from a photograph, or dark specks up to `largest_mm` from
// paper.
void remove_dust(cv::Mat& pixels, double widest_mm, double dpi);
void remove_specks(cv::Mat& pixels, double largest_mm, double dpi);
// Adds `percent` (0 to 100) of the difference to a blurred copy.
void sharpen(cv::Mat& pixels, double percent, double dpi);

}
