#include "core/jbig2/symbols.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <map>
#include <numeric>

namespace yelvin {

size_t SymbolFinder::index_of(PackedBitmap bitmap) {
    const size_t hash = bitmap.hash();
    const auto [first, last] = by_hash_.equal_range(hash);
    const auto same = std::find_if(first, last, [&](const auto& each) { return bitmaps_[each.second] == bitmap; });
    if (same != last) {
        ++counts_[same->second];
        return same->second;
    }
    by_hash_.emplace(hash, bitmaps_.size());
    bitmaps_.push_back(std::move(bitmap));
    counts_.push_back(1);
    return bitmaps_.size() - 1;
}

SymbolFinder::PageOfBitmaps SymbolFinder::add(const InkPieces& pieces) {
    // Letters up to 1.3 inch at 300 dpi. A smaller piece takes fewer bits as pixels than as a symbol.
    constexpr int largest_px = 400, least_area = 6;
    constexpr size_t most_pieces = 30'000;
    PageOfBitmaps out;
    const auto& all = pieces.pieces();
    std::vector<PackedBitmap> found(all.size());
    const bool is_text = all.size() <= most_pieces;
    for (size_t i = 0; i < all.size(); ++i)
        if (is_text && std::max(all[i].box.width, all[i].box.height) <= largest_px && all[i].area >= least_area)
            found[i] = PackedBitmap(all[i].box.size());
    for (const InkPieces::Run& run : pieces.runs()) {
        const cv::Rect& box = all[run.piece].box;
        if (found[run.piece].width() > 0) found[run.piece].set_run(run.y - box.y, run.from - box.x, run.to - box.x);
    }
    for (size_t i = 0; i < all.size(); ++i)
        if (found[i].width() > 0)
            out.placed.push_back({all[i].box.tl(), index_of(std::move(found[i]))});
        else
            out.others.push_back(i);
    return out;
}

namespace {

// Bitmaps that resemble the first one of them.
struct Group {
    std::vector<std::pair<size_t, cv::Point>> members; // a bitmap, and its place on the first one
    int occurrences = 0;
};

// Groups bitmaps, the most frequent ones first, so that a group's first member is its most frequent one.
class Grouping {
  public:
    Grouping(const std::vector<PackedBitmap>& bitmaps, const std::vector<int>& counts)
        : bitmaps_(bitmaps), counts_(counts) {
        for (const PackedBitmap& each : bitmaps) middles_.push_back(each.middle());
        std::vector<size_t> order(bitmaps.size());
        std::iota(order.begin(), order.end(), size_t{0});
        std::ranges::stable_sort(order, std::greater{}, [&](size_t i) { return counts[i]; });
        for (const size_t each : order) add(each);
    }
    std::vector<Group> take() { return std::move(groups_); }

  private:
    const std::vector<PackedBitmap>& bitmaps_;
    const std::vector<int>& counts_;
    std::vector<cv::Point2d> middles_;
    std::vector<Group> groups_;
    std::map<std::pair<int, int>, std::vector<size_t>> by_size_; // groups by the size of their first member

    void add(size_t bitmap) {
        const PackedBitmap& mine = bitmaps_[bitmap];
        // Pixels that may differ. With fewer, more symbols are needed; with more, letters are encoded by other letters,
        // which takes more bits. Set on six pages of 10 pt type that were scanned at tilts up to 0.8 degrees.
        constexpr double most_differing = 0.3;
        const int limit = std::max(4, static_cast<int>(most_differing * mine.area()));
        std::optional<BitmapMatch> best;
        size_t best_group = 0;
        // So few pixels tell little about a shape, and there may be very many such specks.
        constexpr int small_area = 40;
        constexpr size_t most_compared = 300, most_compared_if_small = 60;
        for (const size_t group : candidates(mine, mine.area() < small_area ? most_compared_if_small : most_compared)) {
            const size_t number = groups_[group].members.front().first;
            const PackedBitmap& first = bitmaps_[number];
            const int least = best ? best->differing : limit;
            if (std::abs(first.area() - mine.area()) >= least) continue;
            // The middles of both lie on each other, but for a pixel.
            const cv::Point2d apart = middles_[number] - middles_[bitmap];
            if (const auto match = best_match(mine, first, {cvRound(apart.x), cvRound(apart.y)}, least)) {
                best = match;
                best_group = group;
            }
        }
        if (!best) {
            by_size_[{mine.width(), mine.height()}].push_back(groups_.size());
            groups_.push_back({{{bitmap, {0, 0}}}, counts_[bitmap]});
            return;
        }
        groups_[best_group].members.push_back({bitmap, best->offset});
        groups_[best_group].occurrences += counts_[bitmap];
    }

    // Returns `most` groups of about this size, the oldest and therefore most frequent ones first.
    std::vector<size_t> candidates(const PackedBitmap& bitmap, size_t most) const {
        constexpr int wider = 2;
        std::vector<size_t> out;
        for (int width = bitmap.width() - wider; width <= bitmap.width() + wider; ++width)
            for (int height = bitmap.height() - wider; height <= bitmap.height() + wider; ++height)
                if (const auto at = by_size_.find({width, height}); at != by_size_.end())
                    out.insert(out.end(), at->second.begin(), at->second.end());
        std::ranges::sort(out);
        if (out.size() > most) out.resize(most);
        return out;
    }
};

// The pixels that most members of a group have.
struct Consensus {
    PackedBitmap bitmap;
    cv::Point origin; // its place on the group's first member
};

Consensus consensus_of(const Group& group, const std::vector<PackedBitmap>& bitmaps, const std::vector<int>& counts) {
    cv::Rect all;
    for (const auto& [bitmap, at] : group.members) all |= cv::Rect(at, bitmaps[bitmap].size());
    cv::Mat1i votes(all.size(), 0);
    for (const auto& [bitmap, at] : group.members) {
        cv::Mat1i part = votes(cv::Rect(at - all.tl(), bitmaps[bitmap].size()));
        cv::add(part, counts[bitmap], part, bitmaps[bitmap].mask());
    }
    const cv::Mat ink = 2 * votes > group.occurrences;
    const cv::Rect box = cv::boundingRect(ink);
    if (box.empty()) return {};
    Consensus out{PackedBitmap(box.size()), all.tl() + box.tl()};
    for (int y = 0; y < box.height; ++y)
        for (int x = 0; x < box.width; ++x)
            if (ink.at<uchar>(box.y + y, box.x + x)) out.bitmap.set_run(y, x, x + 1);
    return out;
}

}

Symbols SymbolFinder::found() const {
    constexpr int least_repeats = 3; // more are stored in fewer bits as a variant, fewer in more
    Symbols out;
    out.uses.resize(bitmaps_.size());
    for (const Group& group : Grouping(bitmaps_, counts_).take()) {
        if (group.occurrences < 2) continue;
        Consensus consensus;
        if (group.members.size() > 2) consensus = consensus_of(group, bitmaps_, counts_);
        if (consensus.bitmap.width() == 0) consensus = {bitmaps_[group.members.front().first], {0, 0}};
        const bool varies = group.members.size() > 1;
        const cv::Point origin = varies ? consensus.origin - cv::Point(1, 1) : consensus.origin;
        for (const auto& [bitmap, at] : group.members)
            out.uses[bitmap] = SymbolUse{out.symbols.size(), origin - at, bitmaps_[bitmap] == consensus.bitmap,
                                         counts_[bitmap] >= least_repeats};
        // With an empty rim, a bitmap that is a pixel larger than its symbol fits into the symbol's box, which takes
        // fewer bits.
        out.symbols.push_back(varies ? consensus.bitmap.padded(1, 1, 1, 1) : std::move(consensus.bitmap));
    }
    return out;
}

}
