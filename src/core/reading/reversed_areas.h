// Light type on dark ground.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// The areas of a page that are dark with light letters in them, as a mask of the page's size; empty where there are
// none. A picture is none: its light spots are not crisp, even and of a letter's size.
cv::Mat reversed_areas(const cv::Mat& grey, double dpi);

// The page with these areas turned round: what was dark is light, and the other way about. Colour or grey.
cv::Mat turned_round(const cv::Mat& dots, const cv::Mat& areas);

}
