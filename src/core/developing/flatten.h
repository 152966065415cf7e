// Photographed pages: from the four corners in the picture to the flat page. Pure functions.
#pragma once

#include "core/raster/units.h"

#include <opencv2/core.hpp>

#include <array>

namespace yelvin {

using Corners = std::array<PointMm, 4>; // upper left, upper right, lower right, lower left

// Returns the projective map from the four points `from` to `to`, scaled so that its last element is 1.
cv::Matx33d projection(const std::array<cv::Point2d, 4>& from, const std::array<cv::Point2d, 4>& to);

// Returns the size of the flat page, as large as it appears in the picture. Its ratio of sides is recovered from the
// perspective (Z. Zhang and L. He, Whiteboard scanning and image enhancement, Digital Signal Processing 17, 2007,
// section 4), with the camera's axis through the middle of the picture; if the perspective is too slight, from the
// lengths of the sides. A ratio within 2.5 % of a standard sheet's (ISO 216 or Letter) is taken as that sheet's.
SizeMm flat_page_size(const Corners& corners, SizeMm picture);

// Whether the corners can be those of a page: in order around it, no side shorter than 5 mm, no reflex angle.
bool makes_a_page(const Corners& corners);

}
