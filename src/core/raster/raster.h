// Pixels with a resolution: what every step of the program takes and gives.
#pragma once

#include "core/raster/units.h"

#include <opencv2/core.hpp>

#include <string_view>

namespace yelvin {

// What a pixel can say. Colour is 8-bit BGR; grey is 8-bit; black is bilevel, kept as 8-bit 0 or 255 in memory
// and as one bit in files.
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

// Luma as in ITU-R BT.601 (0.299 R + 0.587 G + 0.114 B). A raster without colour is returned as it is (shared pixels).
cv::Mat grey_pixels(const Raster& raster);

// The brightness of the paper: the most frequent of the lighter grey levels (0 to 255).
int paper_level(const cv::Mat& grey);

// The grey level at or under which a pixel is ink: Otsu's threshold (IEEE Trans. SMC 9(1), 1979, pp. 62-66), kept
// between half the paper's brightness and a clear step under it, so that an empty page does not turn into noise.
int black_threshold(const cv::Mat& grey);

// The raster with fewer ink kinds: colour to grey, either to black. Asking for more than there is changes nothing.
Raster with_ink(const Raster& raster, Ink ink);

// The dots made larger or smaller by a factor each way, to one dot at least. `interpolation` is OpenCV's.
cv::Mat scaled(const cv::Mat& dots, double across, double down, int interpolation);

// The raster at a lower resolution by area averaging, as a scanner with larger sensor cells would give it; never
// raised.
Raster at_resolution(const Raster& raster, double dpi);

}
