// Properties of a page's type that matter for OCR. Pure functions.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

struct TypeSeen {
    double x_height_px = 0; // of most letters; 0: too few letters
    double stroke_px = 0;   // thickness of their strokes
    double screen_px = 0;   // distance of printed dots behind the type; 0: none
    bool specks = false;    // whether there are many spots much smaller than a full stop among the letters
};

// Measures a CV_8UC1 page; ink is what is darker than `under`.
TypeSeen look_at_type(const cv::Mat& grey, double under, double dpi);

// Sets spots much smaller than a full stop of type with this x-height to `level`.
void erase_specks(cv::Mat& grey, double under, double x_height_px, double level);

}
