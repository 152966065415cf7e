// Ruled lines: ruled and squared paper, underlines, the frames of forms. May be called on any thread.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// Removes long straight thin horizontal and vertical lines from a page (CV_8UC1, changed in place) whose paper has the
// level `paper`. Letters that cross a line stay. Returns whether there were any lines.
bool remove_ruled_lines(cv::Mat& even, double dpi, double paper, double spread);

}
