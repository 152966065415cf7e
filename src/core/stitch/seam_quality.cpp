#include "core/stitch/seam_quality.h"

#include "core/stitch/overlap.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

constexpr double least_seam_mm2 = 60, scale_warning = 0.002, least_reach_mm = 40;

std::string doubt_of(const PieceLook& a, const PieceLook& b, const Fit& fit, const Seam& seam, bool ambiguous,
                     bool alone) {
    if (fit.agreement < 0.6 || fit.agreeing < 0.65 * fit.details) return "Their overlap does not look the same.";
    if (seam.off_mm > 0.35) return fmt::format("They are up to {:.1f} mm apart in places.", seam.off_mm);
    if (ambiguous) return "They fit in more than one way.";
    if (alone && fit.agreeing < 8) return "Their overlap has too little detail.";
    if (alone && seam.narrow_mm < 0.5 * std::min(wanted_overlap_mm(a), wanted_overlap_mm(b)))
        return fmt::format("They overlap by only {:.0f} mm.", seam.narrow_mm);
    return {};
}

// Returns the seam between two pieces and the fit that it is judged by, or nothing if they hardly overlap.
std::optional<std::pair<Seam, Fit>> seam_between(const std::vector<PieceLookPtr>& looks, const Layout& layout, size_t a,
                                                 size_t b, const std::vector<TiedPair>& pairs) {
    const PlacedPiece &pa = layout.pieces[a], &pb = layout.pieces[b];
    if (!pa.placed || !pb.placed) return std::nullopt;
    Seam seam{a, b, overlap_mm2(pa.pose, looks[a]->size, pb.pose, looks[b]->size)};
    if (seam.area_mm2 < least_seam_mm2) return std::nullopt;
    const Fit fit = judged(*looks[a], *looks[b], pa.pose.inverse() * pb.pose);
    seam.narrow_mm = fit.narrow_mm;
    seam.agreement = fit.agreement;
    seam.empty = fit.details == 0;
    const auto tied = std::ranges::find_if(pairs, [&](const TiedPair& p) { return p.a == a && p.b == b; });
    if (tied != pairs.end()) seam.off_mm = off_by_mm(*tied, pa.pose, pb.pose);
    return std::pair(seam, fit);
}

}

std::vector<Seam> judged_seams(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                               const std::vector<TiedPair>& pairs, const Unsure& unsure) {
    std::vector<int> held(looks.size(), 0); // by how many others a piece is held
    std::vector<std::pair<Seam, Fit>> found;
    for (size_t a = 0; a < looks.size(); ++a) {
        for (size_t b = a + 1; b < looks.size(); ++b) {
            auto between = seam_between(looks, layout, a, b, pairs);
            if (!between) continue;
            if (between->second.agreeing >= 3) {
                ++held[a];
                ++held[b];
            }
            found.push_back(std::move(*between));
        }
    }
    std::vector<Seam> seams;
    for (auto& [seam, fit] : found) {
        const std::pair pair(seam.a, seam.b);
        const bool alone = held[seam.a] < 2 || held[seam.b] < 2;
        if (!seam.empty)
            seam.doubt = doubt_of(*looks[seam.a], *looks[seam.b], fit, seam, unsure.ambiguous.contains(pair), alone);
        else if (held[seam.a] == 0 || held[seam.b] == 0) // Otherwise other seams determine the places of both pieces.
            seam.doubt = "Their overlap is empty, so their place is a guess.";
        if (!seam.empty && seam.doubt.empty() && unsure.likely.contains(pair))
            seam.doubt = "They probably fit like this, but it is not certain.";
        seams.push_back(seam);
    }
    return seams;
}

std::vector<std::string> scale_warnings(const std::vector<PieceLookPtr>& looks, const std::vector<TiedPair>& pairs) {
    std::vector<std::string> warnings;
    for (const TiedPair& pair : pairs) {
        double reach = 0; // how far apart its ties are
        for (const Tie& tie : pair.ties) reach = std::max(reach, cv::norm(tie.at_a - pair.ties.front().at_a));
        const double scale = scale_between(pair);
        if (reach < least_reach_mm || std::abs(scale - 1) < scale_warning) continue;
        warnings.push_back(fmt::format("{} is {:.1f}% {} than {}: one has a wrong resolution or was not flat. Allow "
                                       "different scales to correct it.",
                                       looks[pair.b]->name, std::abs(scale - 1) * 100, scale > 1 ? "larger" : "smaller",
                                       looks[pair.a]->name));
    }
    return warnings;
}

}
