// Solving all places together: the poses with the smallest deviations of all ties. Pure functions.
#pragma once

#include "core/stitch/fit.h"

namespace yelvin {

struct TiedPair {
    size_t a = 0, b = 0; // which pieces
    std::vector<Tie> ties;
};

enum class Scale { Known, Free };

// Starts from `poses` and replaces them by the solution; the first one is fixed. Gauss-Newton steps, with ties that
// remain far off weighted down (Cauchy). Pieces without ties stay where they are.
void solve_poses(std::vector<Pose>& poses, const std::vector<TiedPair>& pairs, Scale scale);

// Returns the deviation of a pair's ties in mm, root mean square over their certain directions.
double off_by_mm(const TiedPair& pair, const Pose& a, const Pose& b);

// Returns the scale of `b` relative to `a` by its ties; 1 if they are equal.
double scale_between(const TiedPair& pair);

}
