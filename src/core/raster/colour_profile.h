// What the numbers of a picture mean as colours, and how picture files say it.
#pragma once

#include "core/raster/raster.h"

#include <string>

namespace yelvin {

// An ICC profile (ICC.1:2001-04, version 2, which every program reads): sRGB (IEC 61966-2-1) for colour, its grey axis
// for grey and black. Made by Little CMS.
const std::string& colour_profile(Ink ink);

// Converts pixels (CV_8UC1 or CV_8UC3, BGR) in place from the colours of an ICC profile to those of colour_profile(),
// by Little CMS, relative to the white and black of both. Changes nothing where `profile` is empty, cannot be read, is
// for another number of channels, or means the same colours to 2 of 255: then the numbers stay exactly as they are.
void to_srgb(cv::Mat& pixels, const std::string& profile);

// A JPEG as encode_jpeg() makes it, with a profile in its second marker (ICC.1:2001-04, B.4).
std::string jpeg_with_profile(std::string bytes, Ink ink);
// A PNG with a profile behind its header (ISO/IEC 15948, 11.3.3.3).
std::string png_with_profile(std::string bytes, Ink ink);
// The least EXIF that says the resolution (CIPA DC-008 after TIFF 6.0).
std::string exif_of(double dpi);

}
