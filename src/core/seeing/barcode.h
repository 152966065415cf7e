// Barcodes, by ZXing. Thread-safe.
#pragma once

#include "core/raster/raster.h"

#include <string>
#include <vector>

namespace yelvin {

// Returns the texts (UTF-8) of all barcodes on the page, in any orientation.
std::vector<std::string> barcodes(const Raster& page);

// Returns a QR code of `text` as CV_8UC1 with one pixel for each module, 0 for dark and 255 for light, with the quiet
// zone of 4 modules that ISO/IEC 18004 requires. Empty if the text is too long.
cv::Mat qr_code(const std::string& text);

}
