// A copy of a page made for reading, and for nothing else: dark type on even white paper, of a size the engine reads
// well. What is saved never sees it.
#pragma once

#include "core/raster/raster.h"

namespace yelvin {

struct ReadingCopy {
    cv::Mat grey;     // CV_8UC1: 255 where there is paper, 0 where there is full ink
    double scale = 1; // dots of the copy for each dot of the page
    double dpi = 300;
};

// Measures the page and does what it needs: light areas on dark turned round, screens of dots melted, the paper's light
// divided out, inks brought to one darkness, grain and ruled lines quieted, small type enlarged, thin type thickened.
// A page that is black on white already is only brought to size.
ReadingCopy copy_for_reading(const Raster& page);

}
