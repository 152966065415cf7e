// Straight lines across a sheet in any direction: folds, creases and rules, which nobody wrote. Internal to seeing.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// `mask` (CV_8UC1, not 0 where a mark is) without the marks on lines along or across that are at least 8 mm long; a
// little slant still counts.
cv::Mat without_long_lines(const cv::Mat& mask, double dpi);

// The same in any direction: without the marks on lines that are at least 20 mm long, be they broken or
// crossed, and at most 2 mm wide. What is much darker than its line stays: `strength` (CV_8UC1) says how much darker
// than the paper each dot is.
cv::Mat without_creases(const cv::Mat& mask, const cv::Mat& strength, double dpi);

}
