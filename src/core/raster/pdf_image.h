// Pictures embedded in a PDF as the dots that they hold (ISO 32000-1, 8.9), without any resampling. Internal.
#pragma once

#include "core/raster/raster.h"

#include <qpdf/QPDFObjectHandle.hh>

#include <optional>

namespace yelvin {

struct PdfImage {
    cv::Mat pixels; // CV_8UC1 or CV_8UC3 (BGR), sRGB; of a stencil: 0 where it paints, 255 elsewhere
    Ink ink = Ink::Grey;
    bool is_stencil = false;
};

// Decodes the picture `image`, a stream of subtype Image, with its own colour profile applied. One bit a dot and eight
// are taken as they are, two and four are spread over 0 to 255, of sixteen the upper eight are kept.
// Returns nullopt where something is not followed here, and the page is to be drawn by poppler: colours of printing
// inks, colour keys, unusual decode arrays; also where data are missing or broken. Never throws.
std::optional<PdfImage> image_in_pdf(const QPDFObjectHandle& image);

}
