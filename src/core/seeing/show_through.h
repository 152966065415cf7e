// Print of a sheet's other side that shines through the paper, told from this side's own marks by the picture of the
// other side. Internal to seeing.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

// 255 where the other side's print accounts for how dark this side is, else 0; CV_8UC1 of the size of `side`, or empty
// where nothing shines through. `other` is the other side as a camera sees it, upright or upside down; both are the
// sheet alone, level within a degree, and as large within 3 mm. The
// model is that of Sharma, IEEE Transactions on Image Processing 10(5), 2001: what shines through is the other side's
// density, mirrored, blurred and weakened. Its share is estimated from medians, not by Sharma's adaptive filter.
cv::Mat1b print_from_behind(const Marks& side, const Marks& other);

}
