// Finding the places of all pieces in one picture, their seams, and the reasons for pieces that cannot be placed.
//
// Pairs that seem to fit are accepted in the order of their certainty; each must agree with everything it would lie on.
// Then all places are solved together, with ties between pieces measured at full resolution.
//
// The functions block, use OpenCV's threads, and may be called on any thread.
#pragma once

#include "core/developing/recipe.h"
#include "core/error.h"
#include "core/stitch/solve.h"

#include <functional>
#include <map>
#include <mutex>
#include <stop_token>
#include <tuple>

namespace yelvin {

struct PlacedPiece {
    bool placed = false;
    Pose pose;          // from mm of the piece to mm of the picture
    std::string reason; // if it is not placed: a sentence for the user
    bool operator==(const PlacedPiece&) const = default;
};

struct Seam {
    size_t a = 0, b = 0;  // a < b
    double area_mm2 = 0;  // of the overlap
    double narrow_mm = 0; // width of the overlap
    double agreement = 0; // mean correlation, -1 to 1
    double off_mm = 0;    // deviation of its ties
    bool empty = false;   // nothing to compare in it: other seams determine the places
    std::string doubt;    // a sentence if the user should check it; empty: it is certain
    // For display, 0 to 1: the agreement less the deviation.
    double quality() const;
    bool operator==(const Seam&) const = default;
};

struct Layout {
    std::vector<PlacedPiece> pieces; // in the order given
    std::vector<Seam> seams;         // of all overlapping pairs
    std::vector<std::string> warnings;
    SizePx size;      // of the picture
    double dpi = 300; // the finest of the pieces
    size_t placed() const;
    bool operator==(const Layout&) const = default;
};

// Returns the map from pixels of piece `index` to pixels of the picture; the centre of the first pixel is at 0,0 in
// both.
cv::Matx33d to_picture(const Layout& layout, const std::vector<PieceLookPtr>& looks, size_t index);

using TellShare = std::function<void(double)>; // receives the progress, 0 to 1

// A cache of the fits of pairs, so that adding a piece costs only its own pairs. Pieces are identified by the addresses
// of their looks, so the cache must not outlive them. Thread-safe.
class PairMemory {
  public:
    std::optional<std::vector<Fit>> recall(const PieceLook* a, const PieceLook* b, bool searched);
    void keep(const PieceLook* a, const PieceLook* b, bool searched, const std::vector<Fit>& fits);

  private:
    std::mutex lock_;
    std::map<std::tuple<const PieceLook*, const PieceLook*, bool>, std::vector<Fit>> fits_;
};

struct StitchOptions {
    Scale scale = Scale::Known;
    std::shared_ptr<PairMemory> memory = nullptr;
};

// Finds the layout of at least two pieces. If nothing fits, all pieces but one have a reason. Errors: Stopped; BadInput
// for fewer than two pieces.
Result<Layout> find_layout(const std::vector<PieceLookPtr>& looks, const StitchOptions& options = {},
                           const std::stop_token& stop = {}, const TellShare& progress = {});

// Puts a piece where the user moved it and, if `clicks`, into the nearest good fit (within about 10 mm and 3 degrees).
// Without a good fit it stays where it was put, and its seams say so.
Layout with_piece_put(const std::vector<PieceLookPtr>& looks, Layout layout, size_t piece, const Pose& pose,
                      bool clicks = true);

// Determines seams, warnings and the size of the picture for the present poses.
Layout finished(const std::vector<PieceLookPtr>& looks, Layout layout);

// Returns the width of overlap that a scan should have: 8 % of a piece's shorter side, at least 10 mm.
double wanted_overlap_mm(const PieceLook& look);

}
