// Light type on dark ground. Pure functions.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// Returns a mask (CV_8UC1 of the page's size) of the dark areas with light letters; empty if there are none. Pictures
// are not among them, because their light spots are not crisp, even and of a letter's size.
cv::Mat reversed_areas(const cv::Mat& grey, double dpi);

// Returns the page with these areas inverted. Takes colour or grey.
cv::Mat inverted(const cv::Mat& pixels, const cv::Mat& areas);

}
