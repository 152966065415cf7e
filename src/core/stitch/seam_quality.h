// What is to be said of the seams of a layout, for a person who looks along them.
#pragma once

#include "core/stitch/layout.h"

#include <set>

namespace yelvin {

struct Unsure {                                    // pairs of pieces, a < b
    std::set<std::pair<size_t, size_t>> ambiguous; // they fit in more than one way
    std::set<std::pair<size_t, size_t>> likely;    // they probably belong together, no more
};

// All pairs that overlap, each with its doubt; `pairs` are the layout's exact ties.
std::vector<Seam> judged_seams(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                               const std::vector<TiedPair>& pairs, const Unsure& unsure = {});

// Pieces that are larger or smaller than their neighbours, where all should be of one size.
std::vector<std::string> scale_warnings(const std::vector<PieceLookPtr>& looks, const std::vector<TiedPair>& pairs);

}
