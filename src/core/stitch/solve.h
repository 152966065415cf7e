// All places together: the poses in which the ties between all pairs of pieces pull the least.
#pragma once

#include "core/stitch/fit.h"

namespace yelvin {

struct TiedPair {
    size_t a = 0, b = 0; // which pieces
    std::vector<Tie> ties;
};

enum class Scale { Known, Free };

// `poses` are where to begin and become the solution; the first one stays. Gauss and Newton's steps, ties that stay far
// off weighted down (Cauchy). Pieces without ties stay where they are.
void solve_poses(std::vector<Pose>& poses, const std::vector<TiedPair>& pairs, Scale scale);

// How far the ties of a pair are off, root mean square over their certain directions; mm.
double off_by_mm(const TiedPair& pair, const Pose& a, const Pose& b);

// By how much `b` is larger than `a` where the ties are, 1 for the same.
double scale_between(const TiedPair& pair);

}
