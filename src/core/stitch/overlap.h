// How much of two pieces lies on each other.
#pragma once

#include "core/stitch/pose.h"

#include <vector>

namespace yelvin {

// mm² that both cover where they lie so.
double overlap_mm2(const Pose& a, SizeMm size_a, const Pose& b, SizeMm size_b);

}
