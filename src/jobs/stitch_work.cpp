#include "jobs/stitch_work.h"

#include "core/developing/develop.h"
#include "core/tray/originals.h"

#include <algorithm>

namespace yelvin {

namespace {

Result<Raster> piece_raster(const std::filesystem::path& store_folder, const StitchPiece& piece) {
    auto original = read_original(store_folder, piece.page->original);
    if (!original) return original;
    return develop(*original, piece.recipe);
}

Layout with_hands(const std::vector<StitchPiece>& pieces, const std::vector<PieceLookPtr>& looks, Layout layout,
                  const std::vector<PutByHand>& hands) {
    const auto number = [&](const std::string& id) {
        const auto at = std::ranges::find(pieces, id, [](const StitchPiece& p) { return p.page->id; });
        return static_cast<size_t>(at - pieces.begin());
    };
    for (const PutByHand& hand : hands) {
        const size_t piece = number(hand.piece), beside = number(hand.beside);
        if (piece >= pieces.size() || beside >= pieces.size()) continue;
        if (layout.pieces[piece].placed || !layout.pieces[beside].placed) continue;
        layout = with_piece_put(looks, layout, piece, layout.pieces[beside].pose * hand.to_beside, false);
    }
    return layout;
}

}

Recipe piece_recipe(const Page& page, bool alone) {
    Recipe out;
    out.turn_degrees = page.recipe.turn_degrees;
    if (page.recipe.crop && (page.notices.framed || !alone || !page.notices.sheet)) out.crop = page.recipe.crop;
    return out;
}

void choose_recipes(std::vector<StitchPiece>& pieces) {
    for (StitchPiece& piece : pieces) {
        const auto of_same_scan = std::ranges::count_if(
            pieces, [&](const StitchPiece& p) { return p.page->original.file == piece.page->original.file; });
        piece.recipe = piece_recipe(*piece.page, of_same_scan == 1);
    }
}

Result<Raster> PieceCache::take(const std::filesystem::path& store_folder, const StitchPiece& piece) {
    {
        const std::scoped_lock held(lock_);
        for (auto at = pieces_.begin(); at != pieces_.end(); ++at) {
            if (at->first != piece.page->id) continue;
            pieces_.splice(pieces_.begin(), pieces_, at);
            return pieces_.front().second;
        }
    }
    auto raster = piece_raster(store_folder, piece);
    if (!raster) return raster;
    const std::scoped_lock held(lock_);
    pieces_.emplace_front(piece.page->id, *raster);
    size_t bytes = 0;
    for (auto at = pieces_.begin(); at != pieces_.end();) {
        bytes += at->second.pixels.total() * at->second.pixels.elemSize();
        if (bytes > most_bytes && at != pieces_.begin())
            at = pieces_.erase(at);
        else
            ++at;
    }
    return raster;
}

void look_at_pieces(std::vector<StitchPiece>& pieces, const std::vector<std::string>& names,
                    const std::filesystem::path& store_folder, const std::stop_token& stop) {
    cv::parallel_for_({0, static_cast<int>(pieces.size())}, [&](const cv::Range& range) {
        for (int i = range.start; i < range.end && !stop.stop_requested(); ++i) {
            StitchPiece& piece = pieces[static_cast<size_t>(i)];
            if (piece.look) continue;
            if (const auto raster = piece_raster(store_folder, piece))
                piece.look = look_at_piece(names[static_cast<size_t>(i)], *raster);
            else
                piece.failed = raster.error().sentence;
        }
    });
}

std::optional<Layout> laid_out(const std::vector<StitchPiece>& pieces, const std::vector<PutByHand>& hands,
                               const StitchOptions& options, const std::stop_token& stop, const TellShare& progress) {
    Layout layout;
    layout.pieces.resize(pieces.size());
    std::vector<PieceLookPtr> looks;
    for (const StitchPiece& piece : pieces) looks.push_back(piece.look);
    if (looks.empty() || std::ranges::find(looks, nullptr) != looks.end()) return layout;
    if (looks.size() == 1) {
        layout.pieces[0].placed = true;
        return finished(looks, std::move(layout));
    }
    auto found = find_layout(looks, options, stop, progress);
    if (!found) return std::nullopt;
    return with_hands(pieces, looks, std::move(*found), hands);
}

std::vector<SeamPlace> places_along(const Layout& layout, const SeamMap& seams, double step_mm) {
    std::vector<size_t> order(layout.seams.size());
    for (size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::ranges::stable_sort(
        order, {}, [&](size_t i) { return std::pair(layout.seams[i].doubt.empty(), layout.seams[i].quality()); });
    std::vector<SeamPlace> places;
    for (const size_t i : order) {
        const auto along = along_seam(seams, layout.seams[i].a, layout.seams[i].b, step_mm);
        for (size_t k = 0; k < along.size(); ++k)
            places.push_back({i, static_cast<int>(k), static_cast<int>(along.size()), along[k]});
    }
    return places;
}

Result<Original> composed_original(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                                   const StitchSource& source, const std::filesystem::path& store_folder,
                                   const std::stop_token& stop, const TellShare& progress) {
    const auto tones = even_tones(looks, layout);
    const SeamMap seams = choose_seams(looks, layout, tones);
    auto writer = OriginalWriter::begin(store_folder, layout.size.width, layout.dpi, stitched_ink(looks, layout));
    if (!writer) return std::unexpected(writer.error());
    const auto done = compose(
        looks, layout, tones, seams, source, [&](const cv::Mat& rows) { return writer->append(rows); }, stop, progress);
    if (!done) return std::unexpected(done.error());
    return writer->finish();
}

}
