// Colour profiles and resolutions in picture files. Thread-safe.
#pragma once

#include "core/raster/raster.h"

#include <string>

namespace yelvin {

// Returns an ICC profile (ICC.1:2001-04, version 2, which every program reads), made by Little CMS: sRGB (IEC
// 61966-2-1) for colour, its grey axis for grey and black and white. Lives as long as the program.
const std::string& colour_profile(Ink ink);

// Converts pixels (CV_8UC1 or CV_8UC3, BGR) in place from the colours of an ICC profile to those of colour_profile(),
// by Little CMS, relative to the white and black of both. Changes no pixel if `profile` is empty, cannot be read, is
// for another number of channels, or gives the same colours within 2 of 255.
void to_srgb(cv::Mat& pixels, const std::string& profile);

// Adds a profile to a JPEG that encode_jpeg() made, as its second marker (ICC.1:2001-04, B.4).
std::string jpeg_with_profile(std::string bytes, Ink ink);
// Adds a profile to a PNG behind its header (ISO/IEC 15948, 11.3.3.3).
std::string png_with_profile(std::string bytes, Ink ink);
// Returns the smallest EXIF data that state the resolution (CIPA DC-008 after TIFF 6.0).
std::string exif_of(double dpi);

}
