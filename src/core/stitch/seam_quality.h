// Judging the seams of a layout for the user. Internal to core/stitch. Pure functions.
#pragma once

#include "core/stitch/layout.h"

#include <set>

namespace yelvin {

struct Unsure {                                    // pairs of pieces, a < b
    std::set<std::pair<size_t, size_t>> ambiguous; // more than one pose fits
    std::set<std::pair<size_t, size_t>> likely;    // the fit is only likely
};

// Returns all overlapping pairs with their doubts; `pairs` are the exact ties of the layout.
std::vector<Seam> judged_seams(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                               const std::vector<TiedPair>& pairs, const Unsure& unsure = {});

// Returns warnings about pieces that are larger or smaller than their neighbours although all have one scale.
std::vector<std::string> scale_warnings(const std::vector<PieceLookPtr>& looks, const std::vector<TiedPair>& pairs);

}
