// How well two pieces fit where one is thought to lie on the other: judged by all dots of their overlap, never by a few
// points of it.
#pragma once

#include "core/stitch/piece_look.h"
#include "core/stitch/pose.h"

#include <optional>

namespace yelvin {

// The same place seen in two pieces, in mm of each, and how surely: `certainty` (1/mm², a symmetric 2x2 matrix) is
// large across an edge and nothing along it.
struct Tie {
    cv::Point2d at_a, at_b;
    cv::Matx22d certainty;
};

struct Fit {
    Pose pose;               // from b to a
    double area_mm2 = 0;     // of the overlap
    double narrow_mm = 0;    // how wide it is across
    int details = 0;         // cells of it, 4 mm each way, in which there is something to compare
    int agreeing = 0;        // those of them in which both pieces show the same
    int contradicting = 0;   // and those in which one shows plainly what the other does not
    double share = 0;        // of the smaller piece that lies in the overlap
    double agreement = 0;    // mean correlation of the cells, -1 to 1, by how much is in them
    double weakest_mm = 1e9; // how far the pose could be off in its least certain direction
    std::vector<Tie> ties;   // one for each agreeing cell

    // What speaks for it, as a number of cells; below 0 where more speaks against.
    double evidence() const { return agreeing - 4.0 * (details - agreeing) - 8.0 * contradicting; }
};

// The overlap as it is, without moving anything.
Fit judged(const PieceLook& a, const PieceLook& b, const Pose& pose);

// Moved to where the dots fit best (rigid, least squares with Huber's weights, from 3 mm away), then judged.
Fit fitted(const PieceLook& a, const PieceLook& b, const Pose& pose);

// Where cells of the overlap really lie on each other, each to a fraction of a dot at full resolution (Lucas and
// Kanade, IJCAI 1981), at most `most` of them, the most telling ones.
std::vector<Tie> exact_ties(const PieceLook& a, const PieceLook& b, const Pose& pose, size_t most = 160);

// Whether there is enough to compare, it says the same, and the place is certain in every direction; and whether that
// is at least likely.
bool fits(const Fit& fit);
bool may_fit(const Fit& fit);

}
