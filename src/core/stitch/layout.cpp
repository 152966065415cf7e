#include "core/stitch/layout.h"

#include "core/stitch/growing.h"
#include "core/stitch/overlap.h"
#include "core/stitch/seam_quality.h"

#include <fmt/format.h>

#include <algorithm>

namespace yelvin {

namespace {

using Looks = std::vector<PieceLookPtr>;

bool has(const std::vector<size_t>& some, size_t one) { return std::ranges::find(some, one) != some.end(); }

// ---- which pieces hang together

// Returns the pairs of pieces that are not connected and remain to be searched: those with a piece of the largest
// group, or the others.
std::vector<std::pair<size_t, size_t>> apart(const Looks& looks, const Grown& grown, const Pairs& pairs,
                                             bool with_largest) {
    const std::vector<size_t> largest = grown.largest();
    std::vector<std::pair<size_t, size_t>> out;
    for (size_t i = 0; i < looks.size(); ++i) {
        for (size_t j = i + 1; j < looks.size(); ++j) {
            if (grown.group[i] == grown.group[j] || pairs.was_searched(i, j)) continue;
            if (looks[i]->features.empty() || looks[j]->features.empty()) continue;
            if ((has(largest, i) || has(largest, j)) == with_largest) out.emplace_back(i, j);
        }
    }
    return out;
}

// Searches more thoroughly for pieces that are not connected: first against each piece of the largest group, then among
// themselves.
void search_rest(const Looks& looks, Pairs& pairs, Growing& growing, Grown& grown, const std::stop_token& stop,
                 const TellShare& tell) {
    while (!stop.stop_requested() && grown.largest().size() < looks.size()) {
        auto todo = apart(looks, grown, pairs, true);
        if (todo.empty()) todo = apart(looks, grown, pairs, false);
        if (todo.empty()) return;
        for (const auto& [i, j] : todo) {
            if (stop.stop_requested()) return;
            pairs.search(i, j);
            tell(pairs.searched_share());
        }
        grown = growing.best_of(pairs.candidates(), false);
    }
}

Grown found(const Looks& looks, Pairs& pairs, const std::stop_token& stop, const TellShare& tell) {
    constexpr double matching = 0.6, searching = 0.2; // shares of the work
    Growing growing(looks, stop);
    pairs.match_all([&](double share) { tell(matching * share); });
    Grown grown = growing.best_of(pairs.candidates(), false);
    search_rest(looks, pairs, growing, grown, stop, [&](double share) { tell(matching + searching * share); });
    // Pairs that are only likely are used only if there are no certain ones.
    if (grown.largest().size() < looks.size() && std::ranges::any_of(pairs.candidates(), &Candidate::likely))
        grown = growing.best_of(pairs.candidates(), true);
    return grown;
}

// Returns a sentence that says why a piece is left out.
std::string reason(const Looks& looks, const Pairs& pairs, size_t piece, const Grown& grown,
                   const std::vector<size_t>& placed) {
    constexpr double least_narrow_mm = 3;
    const PieceLook& look = *looks[piece];
    if (!grown.conflict[piece].empty()) return grown.conflict[piece];
    if (const Candidate* best = pairs.near_miss(piece, placed)) {
        const std::string& other = looks[best->a == piece ? best->b : best->a]->name;
        if (best->fit.narrow_mm < least_narrow_mm)
            return fmt::format("It overlaps {} by only about {:.0f} mm; {:.0f} mm are needed. Scan it again with more "
                               "overlap with {}.",
                               other, std::max(1.0, best->fit.narrow_mm), wanted_overlap_mm(look), other);
        return fmt::format("It may lie beside {}, but their overlap has too little detail to be sure. Scan it again "
                           "with more overlap with {}.",
                           other, other);
    }
    const auto group = std::ranges::count(grown.group, grown.group[piece]);
    if (group > 1)
        return fmt::format("It fits {} other {}, but not the larger part of the picture.", group - 1,
                           group == 2 ? "piece" : "pieces");
    if (look.features.size() < 8) return "It has too little detail to be placed.";
    return "It fits none of the other pieces: it belongs to another original, or overlaps too little.";
}

// ---- their exact places

std::vector<TiedPair> exact_pairs(const Looks& looks, const std::vector<PlacedPiece>& pieces,
                                  const std::stop_token& stop) {
    std::vector<TiedPair> out;
    for (size_t a = 0; a < looks.size(); ++a) {
        for (size_t b = a + 1; b < looks.size() && !stop.stop_requested(); ++b) {
            if (!pieces[a].placed || !pieces[b].placed) continue;
            if (overlap_mm2(pieces[a].pose, looks[a]->size, pieces[b].pose, looks[b]->size) < 60) continue;
            TiedPair pair{a, b, exact_ties(*looks[a], *looks[b], pieces[a].pose.inverse() * pieces[b].pose)};
            if (!pair.ties.empty()) out.push_back(std::move(pair));
        }
    }
    return out;
}

void solve_exactly(const Looks& looks, Layout& layout, Scale scale, const std::stop_token& stop,
                   std::vector<TiedPair>& pairs) {
    for (int round = 0; round < 2 && !stop.stop_requested(); ++round) {
        pairs = exact_pairs(looks, layout.pieces, stop);
        std::vector<Pose> poses;
        std::vector<size_t> number(looks.size()), members;
        for (size_t i = 0; i < looks.size(); ++i) {
            number[i] = poses.size();
            if (!layout.pieces[i].placed) continue;
            poses.push_back(layout.pieces[i].pose);
            members.push_back(i);
        }
        std::vector<TiedPair> renumbered = pairs;
        for (TiedPair& p : renumbered) {
            p.a = number[p.a];
            p.b = number[p.b];
        }
        solve_poses(poses, renumbered, scale);
        for (size_t k = 0; k < members.size(); ++k) layout.pieces[members[k]].pose = poses[k];
    }
}

// Returns the pose near `pose`, within about 10 mm and 3 degrees, in which the piece fits one of the others best.
std::optional<Pose> nearest_fit(const Looks& looks, const Layout& layout, size_t piece, const Pose& pose) {
    constexpr double least_overlap_mm2 = 300, farthest_mm = 25;
    double best_evidence = 0;
    std::optional<Pose> best;
    const auto try_from = [&](const Pose& start) {
        for (size_t other = 0; other < looks.size(); ++other) {
            if (other == piece || !layout.pieces[other].placed) continue;
            const Pose& at = layout.pieces[other].pose;
            if (overlap_mm2(at, looks[other]->size, start, looks[piece]->size) < least_overlap_mm2) continue;
            const Fit fit = fitted(*looks[other], *looks[piece], at.inverse() * start);
            if (!fits(fit) || fit.evidence() <= best_evidence) continue;
            if (corner_distance(at * fit.pose, pose, looks[piece]->size) > farthest_mm) continue;
            best_evidence = fit.evidence();
            best = at * fit.pose;
        }
    };
    // The search begins at the given pose and around it; the smoothed copies allow for an offset of 3 mm.
    const cv::Point2d centre = pose({looks[piece]->size.width / 2, looks[piece]->size.height / 2});
    for (const double turn : {0.0, -1.5, 1.5}) {
        for (const cv::Point2d& by :
             {cv::Point2d(0, 0), {-5, 0}, {5, 0}, {0, -5}, {0, 5}, {-9, 0}, {9, 0}, {0, -9}, {0, 9}})
            try_from(moved(pose, turn * CV_PI / 180, centre, by));
        if (best) break;
    }
    return best;
}

}

double Seam::quality() const {
    if (empty) return 0;
    return std::clamp(agreement, 0.0, 1.0) * std::clamp(1 - off_mm, 0.0, 1.0);
}

size_t Layout::placed() const {
    return static_cast<size_t>(std::ranges::count_if(pieces, [](const PlacedPiece& p) { return p.placed; }));
}

double wanted_overlap_mm(const PieceLook& look) {
    return std::max(10.0, 0.08 * std::min(look.size.width, look.size.height));
}

cv::Matx33d to_picture(const Layout& layout, const Looks& looks, size_t index) {
    const PieceLook& look = *looks[index];
    const double mm_x = look.size.width / look.width_px, mm_y = look.size.height / look.height_px;
    const cv::Matx33d to_mm(mm_x, 0, 0.5 * mm_x, 0, mm_y, 0.5 * mm_y, 0, 0, 1);
    const cv::Matx23d m = layout.pieces[index].pose.matrix();
    const cv::Matx33d pose(m(0, 0), m(0, 1), m(0, 2), m(1, 0), m(1, 1), m(1, 2), 0, 0, 1);
    const double px_per_mm = layout.dpi / mm_per_inch;
    return cv::Matx33d(px_per_mm, 0, -0.5, 0, px_per_mm, -0.5, 0, 0, 1) * pose * to_mm;
}

Result<Layout> find_layout(const Looks& looks, const StitchOptions& options, const std::stop_token& stop,
                           const TellShare& progress) {
    if (looks.size() < 2)
        return fail(ErrorKind::BadInput, "Stitching needs at least two pieces. Select them and try again.");
    const TellShare tell = [&](double share) {
        if (progress) progress(share);
    };
    Pairs pairs(looks, options.memory, stop);
    const Grown grown = found(looks, pairs, stop, tell);
    if (stop.stop_requested()) return stopped();
    const std::vector<size_t> placed = grown.largest();
    Layout layout;
    layout.pieces.resize(looks.size());
    for (size_t i = 0; i < looks.size(); ++i) {
        layout.pieces[i].placed = has(placed, i);
        layout.pieces[i].pose = grown.poses[i];
        if (!layout.pieces[i].placed) layout.pieces[i].reason = reason(looks, pairs, i, grown, placed);
    }
    std::vector<TiedPair> ties;
    solve_exactly(looks, layout, options.scale, stop, ties);
    if (stop.stop_requested()) return stopped();
    if (options.scale == Scale::Known) layout.warnings = scale_warnings(looks, ties);
    Unsure unsure;
    for (const Candidate& c : grown.taken) {
        if (c.ambiguous) unsure.ambiguous.insert({c.a, c.b});
        if (c.likely) unsure.likely.insert({c.a, c.b});
    }
    layout.seams = judged_seams(looks, layout, ties, unsure);
    tell(1);
    return finished(looks, std::move(layout));
}

Layout with_piece_put(const Looks& looks, Layout layout, size_t piece, const Pose& pose, bool clicks) {
    layout.pieces[piece] = {true, pose, {}};
    const auto best = clicks ? nearest_fit(looks, layout, piece, pose) : std::nullopt;
    std::vector<TiedPair> ties;
    if (best) {
        layout.pieces[piece].pose = *best;
        solve_exactly(looks, layout, Scale::Known, {}, ties);
    } else {
        ties = exact_pairs(looks, layout.pieces, {});
    }
    layout.seams = judged_seams(looks, layout, ties);
    layout.warnings.clear();
    return finished(looks, std::move(layout));
}

}
