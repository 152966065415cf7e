// A copy of a page made for OCR only: dark type on even white paper, of a size that the engine reads well. It is never
// saved. A pure function.
#pragma once

#include "core/raster/raster.h"

namespace yelvin {

struct OcrCopy {
    cv::Mat grey;     // CV_8UC1, 255 for paper and 0 for full ink
    double scale = 1; // pixels of the copy for each pixel of the page
    double dpi = 300;
};

// Measures the page and applies what it needs: inverts light type on dark ground, smooths printed dots, divides by the
// paper's light, makes all inks equally dark, suppresses grain and ruled lines, enlarges small type and thickens thin
// type. A page that is black on white already is only scaled.
OcrCopy copy_for_ocr(const Raster& page);

}
