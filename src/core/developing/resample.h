// The one resampling between an original and its page: cubic convolution (R. Keys, IEEE Trans. ASSP 29(6), 1981, a =
// -0.5) at 1/128 of a dot, for any projective map.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// `to` has size and type already (CV_8UC1 or CV_8UC3, the type of `from`). `map` leads from dots of `to` (centre of the
// first one at 0,0) to those of `from`; what lies outside of `from` is `outside`. Rows are shared out among OpenCV's
// threads.
void resample(const cv::Mat& from, cv::Mat& to, const cv::Matx33d& map, const cv::Scalar& outside);

}
