#include "core/stitch/pairs.h"

#include "core/stitch/match.h"
#include "core/stitch/search.h"

#include <algorithm>

namespace yelvin {

namespace {

constexpr int sure_cells = 250; // So many cells do not agree by chance, even on a repeating pattern.

std::vector<Fit> fits_at(const PieceLook& first, const PieceLook& second, const std::vector<Guess>& tried) {
    std::vector<Fit> out(tried.size());
    cv::parallel_for_({0, static_cast<int>(tried.size())}, [&](const cv::Range& range) {
        for (int i = range.start; i < range.end; ++i)
            out[static_cast<size_t>(i)] = fitted(first, second, tried[static_cast<size_t>(i)].pose);
    });
    return out;
}

}

Pairs::Pairs(const std::vector<PieceLookPtr>& looks, std::shared_ptr<PairMemory> memory, std::stop_token stop)
    : looks_(looks), memory_(std::move(memory)), stop_(std::move(stop)), near_misses_(looks.size()) {}

void Pairs::match_all(const TellShare& progress) {
    std::vector<std::pair<size_t, size_t>> pairs;
    for (size_t a = 0; a < looks_.size(); ++a)
        for (size_t b = a + 1; b < looks_.size(); ++b) pairs.emplace_back(a, b);
    size_t done = 0;
    cv::parallel_for_({0, static_cast<int>(pairs.size())}, [&](const cv::Range& range) {
        for (int i = range.start; i < range.end && !stop_.stop_requested(); ++i) {
            const auto [a, b] = pairs[static_cast<size_t>(i)];
            take_up(a, b, false);
            const std::scoped_lock lock(guard_);
            progress(static_cast<double>(++done) / static_cast<double>(pairs.size()));
        }
    });
    // The candidates are sorted, so that the result does not depend on the order in which the threads finish.
    const auto pieces = [](const Candidate& each) { return std::pair(each.a, each.b); };
    std::ranges::stable_sort(candidates_, {}, pieces);
    for (std::vector<Candidate>& misses : near_misses_) std::ranges::stable_sort(misses, {}, pieces);
}

void Pairs::search(size_t a, size_t b) {
    searched_.insert({a, b});
    take_up(a, b, true);
}

double Pairs::searched_share() const {
    const size_t all = looks_.size() * (looks_.size() - 1) / 2;
    return static_cast<double>(searched_.size()) / static_cast<double>(all + 1);
}

const Candidate* Pairs::near_miss(size_t piece, const std::vector<size_t>& others) const {
    const Candidate* best = nullptr;
    for (const Candidate& miss : near_misses_[piece]) {
        const size_t other = miss.a == piece ? miss.b : miss.a;
        if (std::ranges::find(others, other) == others.end()) continue;
        if (best == nullptr || miss.fit.agreeing > best->fit.agreeing) best = &miss;
    }
    return best;
}

std::vector<Fit> Pairs::fits_of(size_t a, size_t b, bool by_search) {
    const PieceLook &first = *looks_[a], &second = *looks_[b];
    if (memory_) {
        if (auto known = memory_->recall(&first, &second, by_search)) return *known;
    }
    std::vector<Fit> out = fits_at(first, second, by_search ? searched(first, second) : guesses(first, second));
    // Line drawings may be repetitive, so it is checked whether the pieces also fit elsewhere.
    const auto fit = std::ranges::find_if(out, [](const Fit& f) { return fits(f); });
    if (!by_search && fit != out.end() && fit->agreeing < sure_cells && made_of_lines(first) && made_of_lines(second)) {
        const auto more = fits_at(first, second, searched(first, second, 24));
        out.insert(out.end(), more.begin(), more.end());
    }
    if (memory_) memory_->keep(&first, &second, by_search, out);
    return out;
}

void Pairs::take_up(size_t a, size_t b, bool by_search) {
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

std::optional<std::vector<Fit>> PairMemory::recall(const PieceLook* a, const PieceLook* b, bool searched) {
    const std::scoped_lock held(lock_);
    const auto at = fits_.find({a, b, searched});
    return at == fits_.end() ? std::nullopt : std::optional(at->second);
}

void PairMemory::keep(const PieceLook* a, const PieceLook* b, bool searched, const std::vector<Fit>& fits) {
    const std::scoped_lock held(lock_);
    fits_[{a, b, searched}] = fits;
}

}
