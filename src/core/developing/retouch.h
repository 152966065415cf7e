// The corrections that change pixels in place: of a whole page, or of a part of it. Pixels are CV_8UC1 (grey) or
// CV_8UC3 (BGR), never black and white; a correction that needs colour leaves grey ones alone. The matrix must own its
// pixels: the original's may not be written to.
#pragma once

#include "core/developing/measure.h"

namespace yelvin {

// Where the pixels lie on the page, in dots at their own resolution.
struct Lay {
    double dpi = 300;
    cv::Point origin;
    SizePx page;
};

// Nothing happens where `measure` has no light, or one of another number of channels.
// Light is divided out where it is linear (core/raster/srgb.h): reflectance times illumination is what a sensor sees.
void even_out_light(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay);
void lift_edge_shadows(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay);
void fill_holes(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay);
// `on_page`: mm of the page. CV_8UC3 only.
void calm_red_eyes(cv::Mat& pixels, const std::vector<Spot>& on_page, const Lay& lay);
// What is tinted like the picked colour becomes as light as the paper; black on top of it stays. `reach_percent`: 0
// (nothing) to 100. CV_8UC3 only.
void drop_colour(cv::Mat& pixels, const PickedColour& colour, double reach_percent, const PageMeasure& measure);
// A low pass that a period of the screen does not come through. `screen_lpi`: lines per inch, over 0.
void take_out_screen(cv::Mat& pixels, double screen_lpi, double dpi);
// Light specks and hairs on a photograph up to `widest_mm` across; dark specks on paper up to `largest_mm`.
void remove_dust(cv::Mat& pixels, double widest_mm, double dpi);
void remove_specks(cv::Mat& pixels, double largest_mm, double dpi);
// `percent`: 0 to 100 of the difference to a soft copy is added.
void sharpen(cv::Mat& pixels, double percent, double dpi);

}
