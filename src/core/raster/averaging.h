// Pictures made smaller by averaging, which nearly all that looks at a page begins with.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// `dots` (CV_8UC1 or CV_8UC3) made smaller: each dot of the result, `size` of them, is the mean of an area of `across`
// by `down` dots (1 or more), the first of which begins at `from` (0 or more; fractions of a dot count as such); what
// lies beyond the border counts for nothing. That is what cv::resize does with INTER_AREA from the corner, within a
// level, in a third to a twentieth of its time.
cv::Mat averaged(const cv::Mat& dots, cv::Size size, double across, double down, cv::Point2d from = {});

// All of `dots` brought to a size that is nowhere larger.
cv::Mat averaged(const cv::Mat& dots, cv::Size size);

}
