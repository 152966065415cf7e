// Decoding the pictures that are embedded in a PDF (ISO 32000-1, 8.9) without any resampling. Internal to core/raster.
#pragma once

#include "core/raster/raster.h"

#include <qpdf/QPDFObjectHandle.hh>

#include <optional>

namespace yelvin {

struct PdfImage {
    cv::Mat pixels; // CV_8UC1 or CV_8UC3 (BGR), sRGB; of a stencil: 0 where it paints, otherwise 255
    Ink ink = Ink::Grey;
    bool is_stencil = false;
};

// Decodes `image`, a stream of subtype Image, and applies its colour profile. Samples of 1 and 8 bits are taken
// unchanged, 2 and 4 bits are scaled to 0 to 255, and of 16 bits the upper 8 are kept. Returns nullopt for what is not
// supported here, so that poppler must draw the page (colours of printing inks, colour keys, unusual decode arrays),
// and if data are missing or damaged. Never throws.
std::optional<PdfImage> image_in_pdf(const QPDFObjectHandle& image);

}
