// Resampling by cubic convolution (R. Keys, IEEE Trans. ASSP 29(6), 1981, a = -0.5) with positions to 1/128 of a pixel,
// for any projective map.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// Fills `to`, which has its size and the type of `from` already (CV_8UC1 or CV_8UC3). `map` leads from pixels of `to`
// (the centre of the first pixel is at 0,0) to those of `from`; pixels outside of `from` become `outside`. Uses
// OpenCV's threads.
void resample(const cv::Mat& from, cv::Mat& to, const cv::Matx33d& map, const cv::Scalar& outside);

}
