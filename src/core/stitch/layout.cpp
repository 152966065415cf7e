#include "core/stitch/layout.h"

#include "core/stitch/match.h"
#include "core/stitch/search.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <set>

namespace yelvin {

namespace {

using Looks = std::vector<PieceLookPtr>;

bool has(const std::vector<size_t>& some, size_t one) { return std::ranges::find(some, one) != some.end(); }

std::vector<cv::Point2f> outline(const Pose& pose, SizeMm size) {
    std::vector<cv::Point2f> out;
    for (const cv::Point2d& c : corners_of(pose, size)) out.emplace_back(c);
    return out;
}

double overlap_mm2(const Pose& a, SizeMm size_a, const Pose& b, SizeMm size_b) {
    const cv::Rect2d both = bounds_of(a, size_a) & bounds_of(b, size_b);
    if (both.width <= 0 || both.height <= 0) return 0;
    std::vector<cv::Point2f> common;
    return static_cast<double>(cv::intersectConvexConvex(outline(a, size_a), outline(b, size_b), common));
}

// A pair that seems to fit.
struct Candidate {
    size_t a = 0, b = 0; // a < b
    Fit fit;
    bool ambiguous = false; // it fits in another way nearly as well
    bool likely = false;    // no more than that
};

struct Grown {
    std::vector<Pose> poses;
    std::vector<size_t> group;         // which pieces hang together
    std::vector<Candidate> taken;      // by which they do
    std::vector<std::string> conflict; // for pieces: what spoke against
    double evidence = 0;
    std::vector<size_t> largest() const {
        std::map<size_t, std::vector<size_t>> by_group;
        for (size_t i = 0; i < group.size(); ++i) by_group[group[i]].push_back(i);
        std::vector<size_t> best;
        for (const auto& [number, members] : by_group)
            if (members.size() > best.size()) best = members;
        return best;
    }
};

class Finding {
  public:
    Finding(const Looks& looks, const StitchOptions& options, std::stop_token stop, const TellShare& progress)
        : looks_(looks), memory_(options.memory), stop_(std::move(stop)), progress_(progress),
          near_misses_(looks.size()) {}

    Grown found() {
        match_all();
        Grown grown = best_grown();
        search_rest(grown);
        // What is no more than likely is taken only where nothing is surer.
        if (grown.largest().size() < looks_.size() &&
            std::ranges::any_of(candidates_, [](const Candidate& c) { return c.likely; })) {
            likely_too_ = true;
            grown = best_grown();
        }
        return grown;
    }

    std::string reason(size_t piece, const Grown& grown, const std::vector<size_t>& placed) const {
        const PieceLook& look = *looks_[piece];
        if (!grown.conflict[piece].empty()) return grown.conflict[piece];
        const Candidate* best = nullptr;
        for (const Candidate& miss : near_misses_[piece]) {
            const size_t other = miss.a == piece ? miss.b : miss.a;
            if (!has(placed, other)) continue;
            if (best == nullptr || miss.fit.agreeing > best->fit.agreeing) best = &miss;
        }
        if (best != nullptr) {
            const std::string& other = looks_[best->a == piece ? best->b : best->a]->name;
            if (best->fit.narrow_mm < least_narrow_mm)
                return fmt::format(
                    "It overlaps {} by only about {:.0f} mm; {:.0f} mm are needed. Scan it again with more "
                    "of {} on it.",
                    other, std::max(1.0, best->fit.narrow_mm), wanted_overlap_mm(look), other);
            return fmt::format(
                "It may lie beside {}, but too little is in their overlap to be sure. Scan it again with "
                "more of {} on it.",
                other, other);
        }
        const auto group = std::ranges::count(grown.group, grown.group[piece]);
        if (group > 1)
            return fmt::format("It fits {} other {}, but not the larger part of the picture.", group - 1,
                               group == 2 ? "piece" : "pieces");
        if (look.features.size() < 8) return "There is hardly anything on it to fit by.";
        return "Nothing on it fits any of the other pieces: it belongs to something else, or overlaps too little.";
    }

  private:
    static constexpr double least_narrow_mm = 3;
    static constexpr int sure_cells = 250; // more of them do not agree by chance, whatever repeats itself
    const Looks& looks_;
    std::shared_ptr<PairMemory> memory_;
    std::stop_token stop_;
    const TellShare& progress_;
    std::vector<Candidate> candidates_;
    std::vector<std::vector<Candidate>> near_misses_;
    std::set<std::pair<size_t, size_t>> searched_;
    std::map<std::pair<size_t, size_t>, std::vector<std::pair<Pose, Fit>>> judged_; // by pose
    std::mutex guard_;
    bool likely_too_ = false;

    void tell(double share) const {
        if (progress_) progress_(share);
    }

    void match_all() {
        std::vector<std::pair<size_t, size_t>> pairs;
        for (size_t a = 0; a < looks_.size(); ++a)
            for (size_t b = a + 1; b < looks_.size(); ++b) pairs.emplace_back(a, b);
        size_t done = 0;
        cv::parallel_for_({0, static_cast<int>(pairs.size())}, [&](const cv::Range& range) {
            for (int i = range.start; i < range.end && !stop_.stop_requested(); ++i) {
                const auto [a, b] = pairs[static_cast<size_t>(i)];
                take_up(a, b, false);
                const std::scoped_lock lock(guard_);
                tell(0.6 * static_cast<double>(++done) / static_cast<double>(pairs.size()));
            }
        });
    }

    std::vector<Fit> fits_of(size_t a, size_t b, bool by_search) {
        const PieceLook &first = *looks_[a], &second = *looks_[b];
        if (memory_) {
            if (auto known = memory_->recall(&first, &second, by_search)) return *known;
        }
        std::vector<Fit> out = fits_at(first, second, by_search ? searched(first, second) : guesses(first, second));
        // What is made of lines may repeat itself: whether it fits elsewhere too is looked for everywhere.
        const auto fit = std::ranges::find_if(out, [](const Fit& f) { return fits(f); });
        if (!by_search && fit != out.end() && fit->agreeing < sure_cells && made_of_lines(first) &&
            made_of_lines(second)) {
            const auto more = fits_at(first, second, searched(first, second, 24));
            out.insert(out.end(), more.begin(), more.end());
        }
        if (memory_) memory_->keep(&first, &second, by_search, out);
        return out;
    }

    static std::vector<Fit> fits_at(const PieceLook& first, const PieceLook& second, const std::vector<Guess>& tried) {
        std::vector<Fit> out(tried.size());
        cv::parallel_for_({0, static_cast<int>(tried.size())}, [&](const cv::Range& range) {
            for (int i = range.start; i < range.end; ++i)
                out[static_cast<size_t>(i)] = fitted(first, second, tried[static_cast<size_t>(i)].pose);
        });
        return out;
    }

    void take_up(size_t a, size_t b, bool by_search) {
        std::vector<Fit> fits_found = fits_of(a, b, by_search);
        std::vector<Candidate> fitting, missing;
        for (Fit& fit : fits_found) {
            Candidate one{a, b, std::move(fit)};
            const bool known = std::ranges::any_of(fitting, [&](const Candidate& c) {
                return corner_distance(c.fit.pose, one.fit.pose, looks_[b]->size) < 2;
            });
            if (known) continue;
            one.likely = !fits(one.fit);
            if (!one.likely || may_fit(one.fit))
                fitting.push_back(std::move(one));
            else if (one.fit.agreeing >= 2 && one.fit.agreement > 0.8)
                missing.push_back(std::move(one));
        }
        for (Candidate& one : fitting) {
            one.ambiguous = std::ranges::any_of(fitting, [&](const Candidate& other) {
                return &other != &one && other.fit.evidence() > 0.7 * one.fit.evidence() &&
                       other.fit.agreement > one.fit.agreement - 0.05;
            });
        }
        const std::scoped_lock lock(guard_);
        for (const Candidate& miss : missing) {
            near_misses_[a].push_back(miss);
            near_misses_[b].push_back(miss);
        }
        candidates_.insert(candidates_.end(), fitting.begin(), fitting.end());
    }

    // The overlap of two pieces as it would be; remembered, as the same is asked again and again.
    const Fit& overlap_at(size_t i, size_t j, const Pose& pose) {
        auto& known = judged_[{i, j}];
        for (const auto& [at, fit] : known)
            if (corner_distance(at, pose, looks_[j]->size) < 0.3) return fit;
        Fit fit = fitted(*looks_[i], *looks_[j], pose);
        if (corner_distance(fit.pose, pose, looks_[j]->size) > 4) fit = judged(*looks_[i], *looks_[j], pose);
        known.emplace_back(pose, std::move(fit));
        return known.back().second;
    }

    // Which pieces of the one group speak against those of the other, were they put together so.
    bool contradicts(const std::vector<size_t>& one, const std::vector<size_t>& other, const std::vector<Pose>& poses,
                     const Pose& other_to_one, std::vector<Candidate>& more, std::pair<size_t, size_t>& culprit) {
        for (const size_t i : one) {
            for (const size_t j : other) {
                const Pose pj = other_to_one * poses[j];
                if (overlap_mm2(poses[i], looks_[i]->size, pj, looks_[j]->size) < 300) continue;
                const Pose pose = poses[i].inverse() * pj;
                const Fit& fit = overlap_at(i, j, pose);
                const bool unlike = fit.agreement < 0.6 || fit.agreeing < 0.55 * fit.details;
                const bool contradicting = fit.contradicting > std::max(2.0, 0.08 * fit.details);
                if ((fit.details >= 6 && (unlike || contradicting)) ||
                    (fit.details >= 3 && fit.contradicting > 0.6 * fit.details)) {
                    culprit = {i, j};
                    return true;
                }
                if (fit.agreeing >= 2 && fit.agreement > 0.7) more.push_back({i, j, fit});
            }
        }
        return false;
    }

    Grown grown_from(const std::set<size_t>& banned) {
        Grown grown;
        const size_t n = looks_.size();
        grown.poses.resize(n);
        grown.conflict.resize(n);
        for (size_t i = 0; i < n; ++i) grown.group.push_back(i);
        std::vector<size_t> order;
        for (size_t i = 0; i < candidates_.size(); ++i)
            if (!banned.contains(i) && (likely_too_ || !candidates_[i].likely)) order.push_back(i);
        std::ranges::sort(order, [&](size_t i, size_t j) {
            const Candidate &p = candidates_[i], &q = candidates_[j];
            if (p.likely != q.likely) return q.likely;
            if (p.ambiguous != q.ambiguous) return q.ambiguous;
            return p.fit.evidence() > q.fit.evidence();
        });
        for (const size_t index : order) {
            const Candidate& c = candidates_[index];
            if (grown.group[c.a] == grown.group[c.b] || stop_.stop_requested()) continue;
            std::vector<size_t> one, other;
            for (size_t i = 0; i < n; ++i) {
                if (grown.group[i] == grown.group[c.a]) one.push_back(i);
                if (grown.group[i] == grown.group[c.b]) other.push_back(i);
            }
            // b's place by the candidate, against its place in its own group
            const Pose other_to_one = grown.poses[c.a] * c.fit.pose * grown.poses[c.b].inverse();
            std::vector<Candidate> more;
            std::pair<size_t, size_t> culprit;
            if (contradicts(one, other, grown.poses, other_to_one, more, culprit)) {
                const size_t lone = other.size() <= one.size() ? c.b : c.a, with = lone == c.b ? c.a : c.b;
                const size_t against = other.size() <= one.size() ? culprit.first : culprit.second;
                if (against != with)
                    grown.conflict[lone] = fmt::format("It seems to fit {}, but there it contradicts {}.",
                                                       looks_[with]->name, looks_[against]->name);
                continue;
            }
            for (const size_t j : other) {
                grown.poses[j] = other_to_one * grown.poses[j];
                grown.group[j] = grown.group[c.a];
            }
            grown.evidence += c.fit.evidence();
            for (Candidate& m : more) {
                m.likely = c.likely && m.a == c.a && m.b == c.b;
                m.ambiguous = c.ambiguous && m.a == std::min(c.a, c.b) && m.b == std::max(c.a, c.b);
                grown.evidence += std::max(0.0, m.fit.evidence());
                grown.taken.push_back(std::move(m));
            }
            settle(grown, grown.group[c.a]);
        }
        return grown;
    }

    // The group's poses together, by the ties at coarse resolution.
    void settle(Grown& grown, size_t group) const {
        std::vector<size_t> members;
        for (size_t i = 0; i < grown.group.size(); ++i)
            if (grown.group[i] == group) members.push_back(i);
        std::vector<Pose> poses;
        for (const size_t i : members) poses.push_back(grown.poses[i]);
        std::vector<TiedPair> pairs;
        for (const Candidate& c : grown.taken) {
            if (grown.group[c.a] != group) continue;
            const auto place = [&](size_t i) {
                return static_cast<size_t>(std::ranges::find(members, i) - members.begin());
            };
            pairs.push_back({place(c.a), place(c.b), c.fit.ties});
        }
        solve_poses(poses, pairs, Scale::Known);
        for (size_t k = 0; k < members.size(); ++k) grown.poses[members[k]] = poses[k];
    }

    // Where pieces contradict each other, a pair that was taken may have been a wrong one: without it the rest may fit
    // better. The least sure ones are tried first, then what that leads to.
    Grown best_grown() {
        constexpr size_t most_tries = 24;
        constexpr double overwhelming = 80;
        std::set<size_t> banned;
        Grown best = grown_from(banned);
        for (int round = 0; round < 6; ++round) {
            if (std::ranges::all_of(best.conflict, [](const std::string& c) { return c.empty(); })) break;
            std::vector<size_t> tries;
            for (size_t i = 0; i < candidates_.size(); ++i) {
                const Candidate& c = candidates_[i];
                if (banned.contains(i) || (c.likely && !likely_too_)) continue;
                if (c.ambiguous || c.fit.contradicting > 0 || c.fit.evidence() < overwhelming) tries.push_back(i);
            }
            std::ranges::stable_sort(tries, {}, [&](size_t i) {
                const Fit& fit = candidates_[i].fit;
                return std::pair(fit.agreeing == fit.details, fit.evidence());
            });
            if (tries.size() > most_tries) tries.resize(most_tries);
            bool better = false;
            for (const size_t i : tries) {
                if (stop_.stop_requested()) return best;
                std::set<size_t> without = banned;
                without.insert(i);
                Grown other = grown_from(without);
                if (std::pair(other.largest().size(), other.evidence) <=
                    std::pair(best.largest().size(), best.evidence * 1.02))
                    continue;
                best = std::move(other);
                banned = std::move(without);
                better = true;
                break;
            }
            if (!better) break;
        }
        return best;
    }

    // Pieces that hang on nothing are looked at patiently: first against each of the largest part, then among each
    // other.
    void search_rest(Grown& grown) {
        while (!stop_.stop_requested()) {
            const std::vector<size_t> largest = grown.largest();
            if (largest.size() == looks_.size()) return;
            const auto pairs = [&](bool with_largest) {
                std::vector<std::pair<size_t, size_t>> out;
                for (size_t i = 0; i < looks_.size(); ++i) {
                    for (size_t j = i + 1; j < looks_.size(); ++j) {
                        if (grown.group[i] == grown.group[j] || searched_.contains({i, j})) continue;
                        if (looks_[i]->features.empty() || looks_[j]->features.empty()) continue;
                        if ((has(largest, i) || has(largest, j)) == with_largest) out.emplace_back(i, j);
                    }
                }
                return out;
            };
            auto todo = pairs(true);
            if (todo.empty()) todo = pairs(false);
            if (todo.empty()) return;
            for (const auto& [i, j] : todo) {
                if (stop_.stop_requested()) return;
                searched_.insert({i, j});
                take_up(i, j, true);
                tell(0.6 + 0.2 * static_cast<double>(searched_.size()) /
                               static_cast<double>(looks_.size() * (looks_.size() - 1) / 2 + 1));
            }
            grown = best_grown();
        }
    }
};

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

constexpr double scale_warning = 0.002;

void warn_of_scale(const Looks& looks, Layout& layout, const std::vector<TiedPair>& pairs) {
    for (const TiedPair& pair : pairs) {
        double reach = 0; // how far apart its ties are
        for (const Tie& tie : pair.ties) reach = std::max(reach, cv::norm(tie.at_a - pair.ties.front().at_a));
        const double scale = scale_between(pair);
        if (reach < 40 || std::abs(scale - 1) < scale_warning) continue;
        layout.warnings.push_back(fmt::format(
            "{} is {:.1f} % {} than {}: one of them says a wrong resolution, or it was "
            "not scanned flat. Let sizes differ to allow for it.",
            looks[pair.b]->name, std::abs(scale - 1) * 100, scale > 1 ? "larger" : "smaller", looks[pair.a]->name));
    }
}

std::string doubt_of(const PieceLook& a, const PieceLook& b, const Fit& fit, const Seam& seam, bool ambiguous,
                     bool alone) {
    if (fit.agreement < 0.6 || fit.agreeing < 0.65 * fit.details)
        return "What is in their overlap does not look the same.";
    if (seam.off_mm > 0.35) return fmt::format("They are {:.1f} mm off each other in places.", seam.off_mm);
    if (ambiguous) return "They fit in more than one way.";
    if (alone && fit.agreeing < 8) return "Only little is in their overlap to fit by.";
    if (alone && seam.narrow_mm < 0.5 * std::min(wanted_overlap_mm(a), wanted_overlap_mm(b)))
        return fmt::format("They overlap by only {:.0f} mm.", seam.narrow_mm);
    return {};
}

void judge_seams(const Looks& looks, Layout& layout, const std::vector<TiedPair>& pairs,
                 const std::set<std::pair<size_t, size_t>>& ambiguous = {},
                 const std::set<std::pair<size_t, size_t>>& likely = {}) {
    layout.seams.clear();
    std::vector<int> held(looks.size(), 0); // by how many others a piece is held
    std::vector<std::pair<Seam, Fit>> found;
    for (size_t a = 0; a < looks.size(); ++a) {
        for (size_t b = a + 1; b < looks.size(); ++b) {
            const PlacedPiece &pa = layout.pieces[a], &pb = layout.pieces[b];
            if (!pa.placed || !pb.placed) continue;
            Seam seam{a, b, overlap_mm2(pa.pose, looks[a]->size, pb.pose, looks[b]->size)};
            if (seam.area_mm2 < 60) continue;
            const Fit fit = judged(*looks[a], *looks[b], pa.pose.inverse() * pb.pose);
            seam.narrow_mm = fit.narrow_mm;
            seam.agreement = fit.agreement;
            seam.empty = fit.details == 0;
            const auto tied = std::ranges::find_if(pairs, [&](const TiedPair& p) { return p.a == a && p.b == b; });
            if (tied != pairs.end()) seam.off_mm = off_by_mm(*tied, pa.pose, pb.pose);
            if (fit.agreeing >= 3) {
                ++held[a];
                ++held[b];
            }
            found.emplace_back(seam, fit);
        }
    }
    for (auto& [seam, fit] : found) {
        const bool alone = held[seam.a] < 2 || held[seam.b] < 2;
        if (seam.empty) { // then others have to hold its pieces
            if (held[seam.a] == 0 || held[seam.b] == 0) seam.doubt = "Nothing is in their overlap to fit by.";
            layout.seams.push_back(seam);
            continue;
        }
        seam.doubt = doubt_of(*looks[seam.a], *looks[seam.b], fit, seam, ambiguous.contains({seam.a, seam.b}), alone);
        if (seam.doubt.empty() && likely.contains({seam.a, seam.b}))
            seam.doubt = "They probably belong together so, but it is not sure.";
        layout.seams.push_back(seam);
    }
}

}

std::optional<std::vector<Fit>> PairMemory::recall(const PieceLook* a, const PieceLook* b, bool searched) {
    const std::scoped_lock held(lock_);
    const auto at = fits_.find({a, b, searched});
    return at == fits_.end() ? std::nullopt : std::optional(at->second);
}

void PairMemory::keep(const PieceLook* a, const PieceLook* b, bool searched, const std::vector<Fit>& fits) {
    const std::scoped_lock held(lock_);
    fits_[{a, b, searched}] = fits;
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
    const double dots = layout.dpi / mm_per_inch;
    return cv::Matx33d(dots, 0, -0.5, 0, dots, -0.5, 0, 0, 1) * pose * to_mm;
}

Result<Layout> find_layout(const Looks& looks, const StitchOptions& options, std::stop_token stop,
                           const TellShare& progress) {
    if (looks.size() < 2)
        return fail(ErrorKind::BadInput, "Stitching needs two pieces or more. Choose them and try again.");
    Finding finding(looks, options, stop, progress);
    const Grown grown = finding.found();
    if (stop.stop_requested()) return stopped();
    const std::vector<size_t> placed = grown.largest();
    Layout layout;
    layout.pieces.resize(looks.size());
    for (size_t i = 0; i < looks.size(); ++i) {
        layout.pieces[i].placed = has(placed, i);
        layout.pieces[i].pose = grown.poses[i];
        if (!layout.pieces[i].placed) layout.pieces[i].reason = finding.reason(i, grown, placed);
    }
    std::vector<TiedPair> pairs;
    solve_exactly(looks, layout, options.scale, stop, pairs);
    if (stop.stop_requested()) return stopped();
    if (options.scale == Scale::Known) warn_of_scale(looks, layout, pairs);
    std::set<std::pair<size_t, size_t>> ambiguous, likely;
    for (const Candidate& c : grown.taken) {
        if (c.ambiguous) ambiguous.insert({c.a, c.b});
        if (c.likely) likely.insert({c.a, c.b});
    }
    judge_seams(looks, layout, pairs, ambiguous, likely);
    if (progress) progress(1);
    return finished(looks, std::move(layout));
}

Layout with_piece_put(const Looks& looks, Layout layout, size_t piece, const Pose& pose, bool clicks) {
    layout.pieces[piece] = {true, pose, {}};
    if (clicks) {
        // From where it was put and from around there: the soft copies lead from 3 mm away.
        double best_evidence = 0;
        std::optional<Pose> best;
        const cv::Point2d centre = pose({looks[piece]->size.width / 2, looks[piece]->size.height / 2});
        for (const double turn : {0.0, -1.5, 1.5}) {
            for (const cv::Point2d& by :
                 {cv::Point2d(0, 0), {-5, 0}, {5, 0}, {0, -5}, {0, 5}, {-9, 0}, {9, 0}, {0, -9}, {0, 9}}) {
                const Pose start = moved(pose, turn * CV_PI / 180, centre, by);
                for (size_t other = 0; other < looks.size(); ++other) {
                    if (other == piece || !layout.pieces[other].placed) continue;
                    const Pose& at = layout.pieces[other].pose;
                    if (overlap_mm2(at, looks[other]->size, start, looks[piece]->size) < 300) continue;
                    const Fit fit = fitted(*looks[other], *looks[piece], at.inverse() * start);
                    if (!fits(fit) || fit.evidence() <= best_evidence) continue;
                    if (corner_distance(at * fit.pose, pose, looks[piece]->size) > 25) continue;
                    best_evidence = fit.evidence();
                    best = at * fit.pose;
                }
            }
            if (best) break;
        }
        if (best) layout.pieces[piece].pose = *best;
        std::vector<TiedPair> pairs;
        if (best)
            solve_exactly(looks, layout, Scale::Known, {}, pairs);
        else
            pairs = exact_pairs(looks, layout.pieces, {});
        judge_seams(looks, layout, pairs);
    } else {
        judge_seams(looks, layout, exact_pairs(looks, layout.pieces, {}));
    }
    layout.warnings.clear();
    return finished(looks, std::move(layout));
}

}
