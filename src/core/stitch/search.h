// Finding how two pieces lie on each other by exhaustive search, for pieces with too few features (a plan with a few
// lines) or too many alike (a grid): every shift is tried by correlating the edges of both. Pure functions.
#pragma once

#include "core/stitch/match.h"

namespace yelvin {

// Returns a histogram of the directions of edges, in quarter degrees from 0 to 90 (perpendicular edges count as one
// direction), with the sum 1. Lines and letters give a sharp peak.
inline constexpr int direction_bins = 360;
std::vector<double> edge_directions(const PieceLook& look);

struct MainDirection {
    double degrees = 0; // 0 to 90
    double share = 0;   // of all edges within half a degree; above 0.12 it is a clear peak
};
MainDirection main_direction(const std::vector<double>& directions);
inline constexpr double clear_direction = 0.12;
bool made_of_lines(const PieceLook& look);

// Returns up to `most` guesses, the best first, over all quarter turns and tilts up to 9 degrees. Guess::agreed is 0.
std::vector<Guess> searched(const PieceLook& a, const PieceLook& b, size_t most = 14);

}
