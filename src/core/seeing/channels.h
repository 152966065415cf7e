// The channels of a scan that a sensor or a lens laid beside each other, brought together. Internal to seeing.
#pragma once

#include <opencv2/core.hpp>

#include <vector>

namespace yelvin {

// How far `channel` lies from `green` (both CV_8UC1 of the same size), in dots: what is at p in `green` is at p plus
// the result in `channel`. Found at the places with the most edges, for up to two dots; {0, 0} where there are none or
// where more would be needed. Print in a colour has its edges where green has them, so that its hue does not matter.
cv::Point2d channel_shift(const cv::Mat& green, const cv::Mat& channel);

// Blue, green and red of `bgr` (CV_8UC3), with blue and red moved onto green; empty if both lie on it already.
std::vector<cv::Mat> registered_channels(const cv::Mat& bgr);

}
