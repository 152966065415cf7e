// Registration of colour channels that a sensor or a lens displaced against each other. Internal to core/seeing. Pure
// functions.
#pragma once

#include <opencv2/core.hpp>

#include <vector>

namespace yelvin {

// Returns the shift of `channel` against `green` (both CV_8UC1 of the same size) in pixels: what is at p in `green` is
// at p plus the result in `channel`. Found at the places with the most edges, up to two pixels; {0, 0} if there are
// none or the shift is larger. Coloured print has its edges where green has them, so its hue does not matter.
cv::Point2d channel_shift(const cv::Mat& green, const cv::Mat& channel);

// Returns blue, green and red of `bgr` (CV_8UC3) with blue and red moved onto green; empty if neither is displaced.
std::vector<cv::Mat> registered_channels(const cv::Mat& bgr);

}
