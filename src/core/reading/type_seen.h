// What the printing of a page is like, as far as it matters for reading.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

struct TypeSeen {
    double x_height_px = 0; // of most of the letters; 0: too few to tell
    double stroke_px = 0;   // how thick their strokes are
    double screen_px = 0;   // from dot to dot of a printed screen behind the type; 0: none
    bool specks = false;    // among the letters lie many spots much smaller than a full stop
};

// Ink is what is darker than `under`; `grey` has 8 bits.
TypeSeen look_at_type(const cv::Mat& grey, double under, double dpi);

// Brings the spots much smaller than the full stop of type with this x-height to `level`.
void take_out_specks(cv::Mat& grey, double under, double x_height_px, double level);

}
