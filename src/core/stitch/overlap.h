// The overlap of two pieces. A pure function.
#pragma once

#include "core/stitch/pose.h"

#include <vector>

namespace yelvin {

// Returns the area in mm² that both pieces cover.
double overlap_mm2(const Pose& a, SizeMm size_a, const Pose& b, SizeMm size_b);

}
