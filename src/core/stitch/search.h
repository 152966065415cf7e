// The patient way to find how two pieces lie on each other, for those in which features say too little (a plan with a
// few lines) or too much (a grid): every shift is tried, by correlating the edges of both as a whole.
#pragma once

#include "core/stitch/match.h"

namespace yelvin {

// The directions of the edges in a piece, in quarter degrees from 0 to 90 (edges at right angles count as one
// direction), summing up to 1. What has lines or letters has a sharp peak.
inline constexpr int direction_bins = 360;
std::vector<double> edge_directions(const PieceLook& look);

struct MainDirection {
    double degrees = 0; // 0 to 90
    double share = 0;   // of all edges that run so, to half a degree; over 0.12 is a clear peak
};
MainDirection main_direction(const std::vector<double>& directions);
inline constexpr double clear_direction = 0.12;
bool made_of_lines(const PieceLook& look);

// Any quarter turn and tilt up to 9 degrees against each other; the best ones first. `agreed` is 0.
std::vector<Guess> searched(const PieceLook& a, const PieceLook& b, size_t most = 14);

}
