// Pixels with a resolution, the input and output of every step of the program. Copies of a Raster share their pixels; a
// function that changes pixels says so. The functions below are pure.
#pragma once

#include "core/raster/units.h"

#include <opencv2/core.hpp>

#include <string_view>

namespace yelvin {

// The colour mode. Colour is 8-bit BGR, grey is 8-bit, black is black and white: 8-bit 0 or 255 in memory and one bit
// in files.
enum class Ink { Colour, Grey, Black };

std::string_view ink_word(Ink ink); // "colour", "grey", "black": on screen and in files

struct Raster {
    cv::Mat pixels;   // CV_8UC3 for colour, CV_8UC1 for grey and black
    double dpi = 300; // dots per inch in both directions, above 0
    Ink ink = Ink::Grey;

    int width_px() const { return pixels.cols; }
    int height_px() const { return pixels.rows; }
    SizeMm size_mm() const { return {px_to_mm(pixels.cols, dpi), px_to_mm(pixels.rows, dpi)}; }
    bool empty() const { return pixels.empty(); }
};

// Returns the luma of ITU-R BT.601 (0.299 R + 0.587 G + 0.114 B) as CV_8UC1. Shares the pixels of a raster without
// colour.
cv::Mat grey_pixels(const Raster& raster);

// Returns the brightness of the paper: the most frequent of the lighter grey levels, 0 to 255.
int paper_level(const cv::Mat& grey);

// Returns the grey level at or below which a pixel is ink: Otsu's threshold (IEEE Trans. SMC 9(1), 1979, pp. 62-66),
// limited to between half of the paper's brightness and a clear step below it, so that an empty page does not become
// noise.
int black_threshold(const cv::Mat& grey);

// Reduces the colour mode: colour to grey, either to black and white. A mode that has more than the raster's changes
// nothing.
Raster with_ink(const Raster& raster, Ink ink);

// Scales by a factor in each direction, to at least one pixel. `interpolation` is one of OpenCV's.
cv::Mat scaled(const cv::Mat& pixels, double across, double down, int interpolation);

// Reduces the resolution by area averaging, as a scanner with larger sensor cells would deliver it. A higher resolution
// changes nothing.
Raster at_resolution(const Raster& raster, double dpi);

}
