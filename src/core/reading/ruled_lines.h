// Lines that were there before the writing: ruled and squared paper, underlines, the frames of forms.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// Takes long straight thin lines along rows and columns out of a page whose paper is `paper` and whose ink is darker;
// where letters cross a line they stay. CV_8UC1, changed in place. Says whether there were any.
bool quiet_ruled_lines(cv::Mat& even, double dpi, double paper, double spread);

}
