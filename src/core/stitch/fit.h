// How well two pieces fit in a given place, judged by all pixels of their overlap and not by a few points. Pure
// functions.
#pragma once

#include "core/stitch/piece_look.h"
#include "core/stitch/pose.h"

#include <optional>

namespace yelvin {

// The same place in two pieces, in mm of each. `certainty` (1/mm², a symmetric 2x2 matrix) is large across an edge and
// zero along it.
struct Tie {
    cv::Point2d at_a, at_b;
    cv::Matx22d certainty;
};

struct Fit {
    Pose pose;               // from b to a
    double area_mm2 = 0;     // of the overlap
    double narrow_mm = 0;    // width of the overlap
    int details = 0;         // number of cells, 4 x 4 mm, with something to compare
    int agreeing = 0;        // of these, cells in which both pieces show the same
    int contradicting = 0;   // of these, cells in which one clearly shows what the other does not
    double share = 0;        // of the smaller piece that is in the overlap
    double agreement = 0;    // mean correlation of the cells, -1 to 1, weighted by their contents
    double weakest_mm = 1e9; // how far the pose may be off in its least certain direction
    std::vector<Tie> ties;   // one for each agreeing cell

    // The evidence for the fit as a number of cells; negative if more speaks against it.
    double evidence() const { return agreeing - 4.0 * (details - agreeing) - 8.0 * contradicting; }
};

// Judges the pose as it is.
Fit judged(const PieceLook& a, const PieceLook& b, const Pose& pose);

// Moves the pose to where the pixels fit best (rigid, least squares with Huber's weights, from up to 3 mm away) and
// judges it.
Fit fitted(const PieceLook& a, const PieceLook& b, const Pose& pose);

// Returns ties for up to `most` cells with the most detail, each measured to a fraction of a pixel at full resolution
// (Lucas and Kanade, IJCAI 1981).
std::vector<Tie> exact_ties(const PieceLook& a, const PieceLook& b, const Pose& pose, size_t most = 160);

// Whether the fit is certain: there is enough to compare, it agrees, and the place is certain in every direction; and
// whether that is at least likely.
bool fits(const Fit& fit);
bool may_fit(const Fit& fit);

}
