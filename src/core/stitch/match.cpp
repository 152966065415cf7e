#include "core/stitch/match.h"

#include <opencv2/core/hal/intrin.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace yelvin {

namespace {

constexpr int neighbours = 3, least_agreed = 4;
constexpr double reach_mm = 0.6;               // how exact a feature's place is
constexpr double direction = 12 * CV_PI / 180; // and how exact its direction
constexpr double size_factor = 1.35;
constexpr double least_apart_mm = 6;

// Pairs of similar features that are kept: those of a place that was scanned twice are the most similar.
constexpr size_t most_alike = 1000;

struct Alike {
    size_t a = 0, b = 0;
    double radians = 0; // from b to a
    unsigned likeness = 0;
};

unsigned dot_product(const uchar* a, const uchar* b) {
    cv::v_uint32x4 sum = cv::v_setzero_u32();
    for (int i = 0; i < 128; i += 16) sum += cv::v_dotprod_expand_fast(cv::v_load(a + i), cv::v_load(b + i));
    return cv::v_reduce_sum(sum);
}

// Returns for each feature of `a` the features of `b` that are most similar. All descriptors have about the same
// length, so the largest product is the smallest distance.
std::vector<Alike> alike(const PieceLook& a, const PieceLook& b) {
    std::vector<Alike> out;
    for (size_t i = 0; i < a.features.size(); ++i) {
        const uchar* of_a = a.descriptors.ptr(static_cast<int>(i));
        std::array<std::pair<unsigned, size_t>, neighbours> best{};
        for (size_t j = 0; j < b.features.size(); ++j) {
            const double sizes = a.features[i].size_mm / b.features[j].size_mm;
            if (sizes > size_factor || sizes < 1 / size_factor) continue;
            const unsigned product = dot_product(of_a, b.descriptors.ptr(static_cast<int>(j)));
            if (product <= best.back().first) continue;
            size_t at = neighbours - 1;
            for (; at > 0 && best[at - 1].first < product; --at) best[at] = best[at - 1];
            best[at] = {product, j};
        }
        for (const auto& [product, j] : best) {
            if (product > 0)
                out.push_back(
                    {i, j, std::remainder(a.features[i].radians - b.features[j].radians, 2 * CV_PI), product});
        }
    }
    if (out.size() > most_alike) {
        std::ranges::nth_element(out, out.begin() + most_alike, std::greater{}, &Alike::likeness);
        out.resize(most_alike);
    }
    return out;
}

class Voting {
  public:
    Voting(const PieceLook& a, const PieceLook& b) : a_(a), b_(b), all_(alike(a, b)), used_(all_.size(), false) {
        std::ranges::sort(all_, {}, &Alike::radians);
    }

    Guess best() {
        count_support();
        std::vector<size_t> order(all_.size());
        for (size_t i = 0; i < order.size(); ++i) order[i] = i;
        const size_t tried = std::min<size_t>(24, order.size());
        std::ranges::partial_sort(order, order.begin() + static_cast<long>(tried), std::greater{},
                                  [&](size_t i) { return support_[i]; });
        Guess best;
        for (size_t k = 0; k < tried && support_[order[k]] > 1; ++k) {
            const size_t i = order[k];
            int partners = 0;
            for_near(i, [&](size_t j) {
                if (partners >= 12 || !keeps_distance(i, j)) return;
                ++partners;
                const Guess guess = grown(rigid_between({at_b(i), at_b(j)}, {at_a(i), at_a(j)}));
                if (guess.agreed > best.agreed) best = guess;
            });
        }
        return best;
    }

    void strike_out(const Pose& pose) {
        for (const size_t i : inliers(pose)) used_[i] = true;
    }

  private:
    const PieceLook &a_, &b_;
    std::vector<Alike> all_; // by angle
    std::vector<bool> used_;
    std::vector<int> support_;

    cv::Point2d at_a(size_t i) const { return a_.features[all_[i].a].at; }
    cv::Point2d at_b(size_t i) const { return b_.features[all_[i].b].at; }

    // Calls `each` for all features with about this orientation, on both sides of the wrap-around.
    template <class Each>
    void for_turned_by(double angle, Each each) const {
        const auto range = [&](double from, double to) {
            auto at = std::ranges::lower_bound(all_, from, {}, &Alike::radians);
            for (; at != all_.end() && at->radians <= to; ++at) {
                const auto j = static_cast<size_t>(at - all_.begin());
                if (!used_[j]) each(j);
            }
        };
        range(angle - direction, angle + direction);
        if (angle - direction < -CV_PI) range(angle - direction + 2 * CV_PI, CV_PI);
        if (angle + direction > CV_PI) range(-CV_PI, angle + direction - 2 * CV_PI);
    }
    template <class Each>
    void for_near(size_t i, Each each) const {
        for_turned_by(all_[i].radians, [&](size_t j) {
            if (j != i) each(j);
        });
    }

    bool keeps_distance(size_t i, size_t j) const {
        const cv::Point2d in_a = at_a(j) - at_a(i), in_b = at_b(j) - at_b(i);
        const double squared = in_a.dot(in_a), other = in_b.dot(in_b);
        if (squared < least_apart_mm * least_apart_mm) return false;
        // | |a| - |b| | < reach, without roots: |a|^2 - |b|^2 = (|a| - |b|)(|a| + |b|)
        if (std::abs(squared - other) > reach_mm * 2 * std::sqrt(std::max(squared, other))) return false;
        const double turn = std::atan2(in_b.cross(in_a), in_b.dot(in_a));
        return std::abs(std::remainder(turn - all_[i].radians, 2 * CV_PI)) < direction;
    }

    void count_support() {
        support_.assign(all_.size(), 0);
        for (size_t i = 0; i < all_.size(); ++i) {
            if (used_[i]) continue;
            int count = 0;
            for_near(i, [&](size_t j) {
                if (keeps_distance(i, j)) ++count;
            });
            support_[i] = count;
        }
    }

    std::vector<size_t> inliers(const Pose& pose) const {
        std::vector<size_t> out;
        const cv::Matx23d m = pose.matrix();
        for_turned_by(pose.radians, [&](size_t i) {
            const cv::Point2d a = at_a(i), b = at_b(i);
            const double dx = m(0, 0) * b.x + m(0, 1) * b.y + m(0, 2) - a.x;
            const double dy = m(1, 0) * b.x + m(1, 1) * b.y + m(1, 2) - a.y;
            if (dx * dx + dy * dy < reach_mm * reach_mm) out.push_back(i);
        });
        return out;
    }

    // Returns the pose fitted to all features that agree, twice.
    Guess grown(Pose pose) const {
        std::vector<size_t> agreeing = inliers(pose);
        for (int round = 0; round < 2 && agreeing.size() >= 3; ++round) {
            std::vector<cv::Point2d> from, to;
            for (const size_t i : agreeing) {
                from.push_back(at_b(i));
                to.push_back(at_a(i));
            }
            pose = rigid_between(from, to);
            agreeing = inliers(pose);
        }
        std::set<std::pair<int, int>> places; // a place may have several directions
        for (const size_t i : agreeing)
            places.insert({static_cast<int>(at_a(i).x / 1.5), static_cast<int>(at_a(i).y / 1.5)});
        return {pose, static_cast<int>(places.size())};
    }
};

}

std::vector<Guess> guesses(const PieceLook& a, const PieceLook& b, size_t most) {
    std::vector<Guess> out;
    if (a.features.empty() || b.features.empty()) return out;
    Voting voting(a, b);
    while (out.size() < most) {
        const Guess guess = voting.best();
        if (guess.agreed < least_agreed) break;
        // Some features agree by chance everywhere. A repetitive structure agrees nearly as well as the true position.
        if (!out.empty() && guess.agreed < 0.35 * out.front().agreed) break;
        out.push_back(guess);
        voting.strike_out(guess.pose);
    }
    return out;
}

}
