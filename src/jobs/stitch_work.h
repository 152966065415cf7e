// The background work of stitching pages: analysing the pieces, finding their layout, listing places to check along the
// seams, and composing the new original. The functions block and may be called on any thread.
#pragma once

#include "core/stitch/compose.h"
#include "core/stitch/piece_look.h"
#include "core/tray/tray.h"

#include <filesystem>
#include <list>
#include <mutex>
#include <string>

namespace yelvin {

// A page as a piece of something larger.
struct StitchPiece {
    PagePtr page;
    Recipe recipe;      // as a piece
    PieceLookPtr look;  // null until it was analysed
    std::string failed; // a sentence if it cannot be read
};

// Returns the recipe of a page as a piece: as scanned, with the user's crop only, because everything else would blur
// it. `alone`: no other piece is of the same scan.
Recipe piece_recipe(const Page& page, bool alone);
void choose_recipes(std::vector<StitchPiece>& pieces);

// A cache of developed pieces, so that a walk along a seam does not read them again at every step. Thread-safe.
class PieceCache {
  public:
    Result<Raster> take(const std::filesystem::path& store_folder, const StitchPiece& piece);

  private:
    static constexpr size_t most_bytes = 256U << 20;
    std::mutex lock_;
    std::list<std::pair<std::string, Raster>> pieces_; // by page id, the most recently used first
};

// Analyses the pieces that were not analysed yet, in parallel. `names` are their names in sentences.
void look_at_pieces(std::vector<StitchPiece>& pieces, const std::vector<std::string>& names,
                    const std::filesystem::path& store_folder, const std::stop_token& stop);

// A place that the user gave a piece, relative to a neighbour.
struct PutByHand {
    std::string piece, beside; // ids of pages
    Pose to_beside;
};
// Returns the layout. Pieces that the user placed stay there, as long as their neighbour has a place; pieces that were
// not analysed have none. Returns nullopt if it was stopped.
std::optional<Layout> laid_out(const std::vector<StitchPiece>& pieces, const std::vector<PutByHand>& hands,
                               const StitchOptions& options, const std::stop_token& stop, const TellShare& progress);

// A place to check on a seam.
struct SeamPlace {
    size_t seam = 0;
    int step = 0, steps = 0; // number of the place on its seam, from 0, and how many there are
    cv::Point2d at;          // mm of the picture
};
// Returns places on all seams, about `step_mm` apart, the doubtful seams first.
std::vector<SeamPlace> places_along(const Layout& layout, const SeamMap& seams, double step_mm);

// Composes the picture into a new original in the store. Errors: Stopped; those of the store.
Result<Original> composed_original(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                                   const StitchSource& source, const std::filesystem::path& store_folder,
                                   const std::stop_token& stop, const TellShare& progress);

}
