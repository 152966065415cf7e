// Putting pages together, as it is done off the window's thread: looking at the pieces, laying them out, finding the
// places to look at along their seams, and composing the one original that they become.
#pragma once

#include "core/stitch/compose.h"
#include "core/tray/tray_store.h"

#include <list>
#include <mutex>

namespace yelvin {

// A page as a piece of something larger.
struct StitchPiece {
    PagePtr page;
    Recipe recipe;      // as a piece
    PieceLookPtr look;  // null until it was looked at
    std::string failed; // why it cannot be read: a sentence
};

// How a page is taken as a piece: as it was scanned, with what a person cut off cut off; all else would only blur it.
// `alone`: no other piece is of the same scan.
Recipe piece_recipe(const Page& page, bool alone);
void choose_recipes(std::vector<StitchPiece>& pieces);

// A few developed pieces, so that a walk along a seam does not read them anew at every step. From any thread.
class PieceShelf {
  public:
    Result<Raster> take(const std::filesystem::path& store_folder, const StitchPiece& piece);

  private:
    static constexpr size_t most_bytes = 256U << 20;
    std::mutex lock_;
    std::list<std::pair<std::string, Raster>> pieces_; // by the page's id, the latest first
};

// Those that were not looked at yet; `names` as sentences are to call them. Side by side.
void look_at_pieces(std::vector<StitchPiece>& pieces, const std::vector<std::string>& names,
                    const std::filesystem::path& store_folder, const std::stop_token& stop);

// Where a person put a piece, against a neighbour.
struct PutByHand {
    std::string piece, beside; // ids of pages
    Pose to_beside;
};
// Where all of them lie; what a person put somewhere stays there, as long as its neighbour has a place. Pieces that
// were not looked at have none. Nothing: it was stopped.
std::optional<Layout> laid_out(const std::vector<StitchPiece>& pieces, const std::vector<PutByHand>& hands,
                               const StitchOptions& options, const std::stop_token& stop, const TellShare& progress);

// A place to look at along a seam.
struct SeamPlace {
    size_t seam = 0;
    int step = 0, steps = 0; // of its seam
    cv::Point2d at;          // mm of the picture
};
// Along all seams, about every `step_mm`, the doubtful ones first.
std::vector<SeamPlace> places_along(const Layout& layout, const SeamMap& seams, double step_mm);

// The picture as a new original in the store.
Result<Original> composed_original(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                                   const StitchSource& source, const std::filesystem::path& store_folder,
                                   const std::stop_token& stop, const TellShare& progress);

}
