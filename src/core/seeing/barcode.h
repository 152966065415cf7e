// Barcodes on a page, through ZXing.
#pragma once

#include "core/raster/raster.h"

#include <string>
#include <vector>

namespace yelvin {

// The texts of all barcodes that can be read, lying any way round; UTF-8.
std::vector<std::string> barcodes(const Raster& page);

// A black QR code of `text`, 0 where a module is dark and 255 elsewhere, one dot a module with the quiet zone that
// ISO/IEC 18004 asks for (4 modules). Empty where the text is too long.
cv::Mat qr_code(const std::string& text);

}
