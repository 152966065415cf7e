// Distinguishing print that shines through from the other side of a sheet from this side's own marks, by the picture of
// the other side. Internal to core/seeing. A pure function.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

// Returns CV_8UC1 of the size of `side`: 255 where the other side's print explains how dark this side is, otherwise 0;
// empty if nothing shines through. `other` is the other side as the scanner delivered it, upright or upside down. Both
// show the sheet alone, level within a degree and of the same size within 3 mm. The model is that of Sharma, IEEE
// Transactions on Image Processing 10(5), 2001: what shines through is the other side's density, mirrored, blurred and
// weakened. Its share is estimated from medians, not by Sharma's adaptive filter.
cv::Mat1b print_from_behind(const Marks& side, const Marks& other);

}
