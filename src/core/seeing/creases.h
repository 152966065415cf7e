// Removing straight lines across a sheet (folds, creases, ruled lines) from a mask of marks. Internal to core/seeing.
// Pure functions.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// Returns `mask` (CV_8UC1, not 0 means a mark) without the marks on horizontal or vertical lines at least 8 mm long,
// which may be slightly slanted.
cv::Mat without_long_lines(const cv::Mat& mask, double dpi);

// Returns `mask` without the marks on lines in any direction that are at least 20 mm long and at most 2 mm wide, even
// if they are broken or crossed. Marks much darker than their line stay: `strength` (CV_8UC1) is how much darker than
// the paper each pixel is.
cv::Mat without_creases(const cv::Mat& mask, const cv::Mat& strength, double dpi);

}
