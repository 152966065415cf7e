#include "core/stitch/growing.h"

#include "core/stitch/overlap.h"

#include <fmt/format.h>

#include <algorithm>

namespace yelvin {

namespace {

constexpr double least_overlap_mm2 = 300; // A smaller overlap is not evidence.

std::vector<size_t> members_of(const Grown& grown, size_t group) {
    std::vector<size_t> members;
    for (size_t i = 0; i < grown.group.size(); ++i)
        if (grown.group[i] == group) members.push_back(i);
    return members;
}

// Returns the indices of the candidates that may be used, the most certain first.
std::vector<size_t> in_order(const std::vector<Candidate>& candidates, const std::set<size_t>& banned,
                             bool likely_too) {
    std::vector<size_t> order;
    for (size_t i = 0; i < candidates.size(); ++i)
        if (!banned.contains(i) && (likely_too || !candidates[i].likely)) order.push_back(i);
    std::ranges::sort(order, [&](size_t i, size_t j) {
        const Candidate &p = candidates[i], &q = candidates[j];
        if (p.likely != q.likely) return q.likely;
        if (p.ambiguous != q.ambiguous) return q.ambiguous;
        return p.fit.evidence() > q.fit.evidence();
    });
    return order;
}

// Returns the candidates whose removal may improve the rest, the least certain first.
std::vector<size_t> worth_a_try(const std::vector<Candidate>& candidates, const std::set<size_t>& banned,
                                bool likely_too) {
    constexpr size_t most_tries = 24;
    constexpr double overwhelming = 80;
    std::vector<size_t> tries;
    for (size_t i = 0; i < candidates.size(); ++i) {
        const Candidate& c = candidates[i];
        if (banned.contains(i) || (c.likely && !likely_too)) continue;
        if (c.ambiguous || c.fit.contradicting > 0 || c.fit.evidence() < overwhelming) tries.push_back(i);
    }
    std::ranges::stable_sort(tries, {}, [&](size_t i) {
        const Fit& fit = candidates[i].fit;
        return std::pair(fit.agreeing == fit.details, fit.evidence());
    });
    if (tries.size() > most_tries) tries.resize(most_tries);
    return tries;
}

bool has_conflict(const Grown& grown) {
    return std::ranges::any_of(grown.conflict, [](const std::string& c) { return !c.empty(); });
}

}

std::vector<size_t> Grown::largest() const {
    std::map<size_t, std::vector<size_t>> by_group;
    for (size_t i = 0; i < group.size(); ++i) by_group[group[i]].push_back(i);
    std::vector<size_t> best;
    for (const auto& [number, members] : by_group)
        if (members.size() > best.size()) best = members;
    return best;
}

// If pieces contradict each other, an accepted pair may be wrong. The least certain pairs are removed on trial first,
// then those that this leads to.
Grown Growing::best_of(const std::vector<Candidate>& candidates, bool likely_too) {
    constexpr int most_rounds = 6;
    constexpr double clearly = 1.02;
    std::set<size_t> banned;
    Grown best = grown_from(candidates, banned, likely_too);
    for (int round = 0; round < most_rounds && has_conflict(best); ++round) {
        bool better = false;
        for (const size_t i : worth_a_try(candidates, banned, likely_too)) {
            if (stop_.stop_requested()) return best;
            std::set<size_t> without = banned;
            without.insert(i);
            Grown other = grown_from(candidates, without, likely_too);
            if (std::pair(other.largest().size(), other.evidence) <=
                std::pair(best.largest().size(), best.evidence * clearly))
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

Grown Growing::grown_from(const std::vector<Candidate>& candidates, const std::set<size_t>& banned, bool likely_too) {
    Grown grown;
    grown.poses.resize(looks_.size());
    grown.conflict.resize(looks_.size());
    for (size_t i = 0; i < looks_.size(); ++i) grown.group.push_back(i);
    for (const size_t index : in_order(candidates, banned, likely_too)) {
        const Candidate& c = candidates[index];
        if (grown.group[c.a] != grown.group[c.b] && !stop_.stop_requested()) take(grown, c);
    }
    return grown;
}

// Merges the candidate's two groups, unless their pieces contradict it.
void Growing::take(Grown& grown, const Candidate& c) {
    const std::vector<size_t> one = members_of(grown, grown.group[c.a]), other = members_of(grown, grown.group[c.b]);
    // b's place by the candidate, against its place in its own group
    const Pose other_to_one = grown.poses[c.a] * c.fit.pose * grown.poses[c.b].inverse();
    std::vector<Candidate> more;
    std::pair<size_t, size_t> culprit;
    if (contradicts(one, other, grown.poses, other_to_one, more, culprit)) {
        const size_t lone = other.size() <= one.size() ? c.b : c.a, with = lone == c.b ? c.a : c.b;
        const size_t against = other.size() <= one.size() ? culprit.first : culprit.second;
        if (against != with)
            grown.conflict[lone] = fmt::format("It seems to fit {}, but there it does not fit {}.", looks_[with]->name,
                                               looks_[against]->name);
        return;
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

// Returns the fit of two pieces in these positions. The result is cached, because the same pair is requested
// repeatedly.
const Fit& Growing::overlap_at(size_t i, size_t j, const Pose& pose) {
    auto& known = judged_[{i, j}];
    for (const auto& [at, fit] : known)
        if (corner_distance(at, pose, looks_[j]->size) < 0.3) return fit;
    Fit fit = fitted(*looks_[i], *looks_[j], pose);
    if (corner_distance(fit.pose, pose, looks_[j]->size) > 4) fit = judged(*looks_[i], *looks_[j], pose);
    known.emplace_back(pose, std::move(fit));
    return known.back().second;
}

// Returns whether pieces of the two groups would contradict each other if the groups were merged.
bool Growing::contradicts(const std::vector<size_t>& one, const std::vector<size_t>& other,
                          const std::vector<Pose>& poses, const Pose& other_to_one, std::vector<Candidate>& more,
                          std::pair<size_t, size_t>& culprit) {
    for (const size_t i : one) {
        for (const size_t j : other) {
            const Pose pj = other_to_one * poses[j];
            if (overlap_mm2(poses[i], looks_[i]->size, pj, looks_[j]->size) < least_overlap_mm2) continue;
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

// Optimises all poses of the group together, using the ties at coarse resolution.
void Growing::settle(Grown& grown, size_t group) const {
    const std::vector<size_t> members = members_of(grown, group);
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

}
