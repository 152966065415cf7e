// A page that was photographed: its four corners, and the flat page they belong to.
#pragma once

#include "core/raster/raster.h"

#include <array>

namespace yelvin {

using Corners = std::array<PointMm, 4>; // upper left, upper right, lower right, lower left

// The projective map that takes the four points `from` to `to`, scaled so that its last element is 1.
cv::Matx33d projection(const std::array<cv::Point2d, 4>& from, const std::array<cv::Point2d, 4>& to);

// How large the flat page is: its ratio of sides recovered from the perspective (Z. Zhang and L. He, Whiteboard
// scanning and image enhancement, Digital Signal Processing 17, 2007, section 4), the camera's axis through the
// picture's middle; where the perspective is too slight to tell, from the lengths of the sides. A ratio within 2.5 % of
// a standard sheet's (ISO 216 or Letter) is taken as that one. As large as it appears in the picture.
SizeMm flat_page_size(const Corners& corners, SizeMm picture);

// Corners that make a page: in order around it, no side under 5 mm, no angle past straight.
bool makes_a_page(const Corners& corners);

}
