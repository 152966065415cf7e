// Guessing how one piece lies on another from matching features. A pure function.
//
// The scale is known, so two pairs of features are enough for a guess, and pairs that do not keep their distance and
// directions are rejected at once. Text and tables repeat themselves, so several guesses are returned, to be judged by
// the pixels.
#pragma once

#include "core/stitch/piece_look.h"
#include "core/stitch/pose.h"

namespace yelvin {

struct Guess {
    Pose pose;      // from `b` to `a`
    int agreed = 0; // number of features that agree, counted once for each place
};

// Returns up to `most` guesses, the best first; none if hardly any features agree.
std::vector<Guess> guesses(const PieceLook& a, const PieceLook& b, size_t most = 4);

}
