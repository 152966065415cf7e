// Where all pieces lie in one picture: which overlap, how well, and what could not be placed and why.
//
// Pairs that seem to fit are taken up one by one, the surest first; each must agree with all that it would come to lie
// on. Then all places are solved together, the ties between pieces measured at full resolution.
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
    std::string reason; // why it is left out: a sentence
    bool operator==(const PlacedPiece&) const = default;
};

struct Seam {
    size_t a = 0, b = 0;  // a < b
    double area_mm2 = 0;  // of the overlap
    double narrow_mm = 0; // how wide it is
    double agreement = 0; // of what is in it, -1 to 1
    double off_mm = 0;    // how far its ties are off
    bool empty = false;   // nothing in it to compare: its pieces are held by others
    std::string doubt;    // why it is to be looked at; empty: it is sure
    // 0 to 1, for a person: what of the overlap is the same, less what it is off.
    double quality() const;
    bool operator==(const Seam&) const = default;
};

struct Layout {
    std::vector<PlacedPiece> pieces; // as given
    std::vector<Seam> seams;         // of all pairs that overlap
    std::vector<std::string> warnings;
    SizePx size;      // of the picture
    double dpi = 300; // the finest of the pieces'
    size_t placed() const;
    bool operator==(const Layout&) const = default;
};

// From pixels of piece `index` to pixels of the picture; centre of the first pixel at 0,0 in both.
cv::Matx33d to_picture(const Layout& layout, const std::vector<PieceLookPtr>& looks, size_t index);

using TellShare = std::function<void(double)>; // 0 to 1

// What was found out about pairs, so that with one more piece only its own pairs are new. Pieces are told apart by
// their looks' addresses: it lives as long as they do. From any thread.
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

// Two pieces or more. An Error only where it was stopped or fewer than two are given; where nothing fits, every piece
// but one has its reason.
Result<Layout> find_layout(const std::vector<PieceLookPtr>& looks, const StitchOptions& options = {},
                           const std::stop_token& stop = {}, const TellShare& progress = {});

// A person put `piece` near its place: the nearest good fit to the others where it lies now (within about 10 mm and 3
// degrees), then its seams. Without one it stays where it was put, and its seams say so.
Layout with_piece_put(const std::vector<PieceLookPtr>& looks, Layout layout, size_t piece, const Pose& pose,
                      bool clicks = true);

// The seams, warnings and the rectangle of the picture for poses as they are.
Layout finished(const std::vector<PieceLookPtr>& looks, Layout layout);

// The least overlap that is worth a scan, across: 8 % of a piece's shorter side, at least 10 mm.
double wanted_overlap_mm(const PieceLook& look);

}
