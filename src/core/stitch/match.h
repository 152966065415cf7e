// Guesses of how one piece lies on another, from features that look alike.
//
// Scale is known, so two pairs of features are enough for a guess, and all that do not keep their distance and their
// directions are out at once. Text and tables repeat themselves: several guesses are given, to be judged by the dots.
#pragma once

#include "core/stitch/piece_look.h"
#include "core/stitch/pose.h"

namespace yelvin {

struct Guess {
    Pose pose;      // from `b` to `a`
    int agreed = 0; // features, counted once for each place
};

// The best ones first, at most `most`; none where hardly any features agree.
std::vector<Guess> guesses(const PieceLook& a, const PieceLook& b, size_t most = 4);

}
