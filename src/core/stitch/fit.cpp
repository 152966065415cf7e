#include "core/stitch/fit.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

// A pixel of `a` that `b` covers as well: its position in both and the value of `b` there.
struct Shared {
    int x, y;
    float of_a, of_b;
};

float between(const cv::Mat& pixels, double x, double y) {
    const int x0 = static_cast<int>(x), y0 = static_cast<int>(y);
    const auto fx = static_cast<float>(x - x0), fy = static_cast<float>(y - y0);
    const float* upper = pixels.ptr<float>(y0) + x0;
    const float* lower = pixels.ptr<float>(y0 + 1) + x0;
    return (upper[0] * (1 - fx) + upper[1] * fx) * (1 - fy) + (lower[0] * (1 - fx) + lower[1] * fx) * fy;
}

// Calls `each` for every `step`th pixel of `a` that `b` covers. The outermost two pixels of a scan are left out.
template <class Each>
void for_shared(const LookLevel& a, const LookLevel& b, const Pose& b_to_a, int step, Each each) {
    constexpr double rim = 2;
    const SizeMm size_b{b.mm_x * b.pixels.cols, b.mm_y * b.pixels.rows};
    const cv::Rect2d box = bounds_of(b_to_a, size_b);
    const cv::Point2d first = a.pixel(box.tl()), last = a.pixel(box.br());
    const int left = std::max(2, static_cast<int>(first.x)), top = std::max(2, static_cast<int>(first.y));
    const int right = std::min(a.pixels.cols - 3, static_cast<int>(last.x) + 1);
    const int bottom = std::min(a.pixels.rows - 3, static_cast<int>(last.y) + 1);
    const Pose inverse = b_to_a.inverse();
    const cv::Point2d along = (inverse(a.mm({1, 0})) - inverse(a.mm({0, 0})));
    const double dx = along.x / b.mm_x, dy = along.y / b.mm_y;
    for (int y = top; y <= bottom; y += step) {
        cv::Point2d at = b.pixel(inverse(a.mm({static_cast<double>(left), static_cast<double>(y)})));
        // The range of the row that is covered by b.
        double from = 0, to = right - left;
        const auto within = [&](double start, double slope, double high) {
            if (std::abs(slope) < 1e-12) {
                if (start < rim || start > high) to = -1;
                return;
            }
            const double t0 = (rim - start) / slope, t1 = (high - start) / slope;
            from = std::max(from, std::min(t0, t1));
            to = std::min(to, std::max(t0, t1));
        };
        within(at.x, dx, b.pixels.cols - 1 - rim);
        within(at.y, dy, b.pixels.rows - 1 - rim);
        for (int t = static_cast<int>(std::ceil(from)); t <= to; t += step)
            each(left + t, y, a.pixels.at<float>(y, left + t), between(b.pixels, at.x + t * dx, at.y + t * dy));
    }
}

// One step of the rigid least-squares fit. Returns false if it cannot be improved further or is undetermined.
bool step_closer(const LookLevel& a, const LookLevel& b, Pose& pose, int stride, double most_mm, double& moved_mm) {
    std::vector<Shared> shared;
    double sum_a = 0, sum_b = 0, squares_a = 0, squares_b = 0;
    cv::Point2d centre;
    for_shared(a, b, pose, stride, [&](int x, int y, float va, float vb) {
        shared.push_back({x, y, va, vb});
        sum_a += va;
        sum_b += vb;
        squares_a += static_cast<double>(va) * va;
        squares_b += static_cast<double>(vb) * vb;
        centre += cv::Point2d(x, y);
    });
    if (shared.size() < 60) return false;
    const auto n = static_cast<double>(shared.size());
    const double mean_a = sum_a / n, mean_b = sum_b / n;
    const double spread_a = std::sqrt(std::max(0.0, squares_a / n - mean_a * mean_a));
    const double spread_b = std::sqrt(std::max(0.0, squares_b / n - mean_b * mean_b));
    if (spread_a < 0.5 || spread_b < 0.5) return false;
    const double gain = std::clamp(spread_a / spread_b, 0.7, 1.4);
    centre *= 1 / n;
    const double huber = std::max(4.0, 0.35 * spread_a);
    cv::Matx33d normal = cv::Matx33d::zeros();
    cv::Vec3d right;
    for (const Shared& pixel : shared) {
        const float* row = a.pixels.ptr<float>(pixel.y) + pixel.x;
        const double gx = (row[1] - row[-1]) * 0.5;
        const double gy = (a.pixels.ptr<float>(pixel.y + 1)[pixel.x] - a.pixels.ptr<float>(pixel.y - 1)[pixel.x]) * 0.5;
        if (gx * gx + gy * gy < 0.25) continue;
        const double off = (pixel.of_b - mean_b) * gain - (pixel.of_a - mean_a);
        const double weight = std::abs(off) <= huber ? 1 : huber / std::abs(off);
        const double turn = -gx * (pixel.y - centre.y) + gy * (pixel.x - centre.x);
        const cv::Vec3d j(turn, gx, gy);
        normal += (weight * j) * j.t();
        right += j * (weight * off);
    }
    cv::Vec3d by;
    normal(0, 0) *= 1.0001;
    normal(1, 1) += 1;
    normal(2, 2) += 1;
    if (!cv::solve(normal, right, by, cv::DECOMP_CHOLESKY)) return false;
    const double far = std::hypot(by[1] * a.mm_x, by[2] * a.mm_y);
    const double shrink = std::min(1.0, most_mm / std::max(1e-9, far));
    by *= shrink;
    by[0] = std::clamp(by[0], -0.01, 0.01);
    const cv::Point2d about = a.mm(centre);
    pose = moved(pose, by[0], about, {by[1] * a.mm_x, by[2] * a.mm_y});
    moved_mm = far * shrink + std::abs(by[0]) * 100;
    return true;
}

struct CellSums {
    double n = 0, a = 0, b = 0, aa = 0, bb = 0, ab = 0;
    cv::Matx22d tensor = cv::Matx22d::zeros();
    cv::Point2d centre;
};

constexpr double least_spread = 2.5; // Grey levels in a cell of the blurred picture. Less is paper and noise.
constexpr double least_correlation = 0.7;

// The precision of a pose in its least certain direction, from the precision of the ties about their centre.
double weakest_of(const std::vector<Tie>& ties) {
    if (ties.size() < 3) return 1e9;
    cv::Point2d centre;
    for (const Tie& t : ties) centre += t.at_a;
    centre *= 1.0 / static_cast<double>(ties.size());
    cv::Matx33d normal = cv::Matx33d::zeros();
    for (const Tie& t : ties) {
        const cv::Point2d p = t.at_a - centre;
        // A rotation counts by the distance that it moves a point 50 mm away.
        const cv::Matx23d j(-p.y / 50, 1, 0, p.x / 50, 0, 1);
        normal += j.t() * t.certainty * j;
    }
    cv::Mat values;
    cv::eigen(cv::Mat(normal), values);
    const double least = values.at<double>(2);
    return least <= 1e-12 ? 1e9 : 1 / std::sqrt(least);
}

}

Fit judged(const PieceLook& a, const PieceLook& b, const Pose& pose) {
    Fit fit;
    fit.pose = pose;
    const LookLevel& level = a.coarse;
    const int cell = a.cell_px;
    const int across = level.pixels.cols / cell + 1, down = level.pixels.rows / cell + 1;
    std::vector<CellSums> cells(static_cast<size_t>(across * down));
    double pixels = 0;
    for_shared(level, b.coarse, pose, 1, [&](int x, int y, float va, float vb) {
        CellSums& c =
            cells[static_cast<size_t>(y / cell) * static_cast<size_t>(across) + static_cast<size_t>(x / cell)];
        c.n += 1;
        c.a += va;
        c.b += vb;
        c.aa += static_cast<double>(va) * va;
        c.bb += static_cast<double>(vb) * vb;
        c.ab += static_cast<double>(va) * vb;
        c.centre += cv::Point2d(x, y);
        const double gx = (level.pixels.at<float>(y, x + 1) - level.pixels.at<float>(y, x - 1)) * 0.5 / level.mm_x;
        const double gy = (level.pixels.at<float>(y + 1, x) - level.pixels.at<float>(y - 1, x)) * 0.5 / level.mm_y;
        c.tensor += cv::Matx22d(gx * gx, gx * gy, gx * gy, gy * gy);
        pixels += 1;
    });
    fit.area_mm2 = pixels * level.mm_x * level.mm_y;
    fit.share = fit.area_mm2 / std::min(a.size.width * a.size.height, b.size.width * b.size.height);
    // Half the width of an overlap that has the length of the shorter piece.
    fit.narrow_mm =
        fit.area_mm2 / std::min(std::max(a.size.width, a.size.height), std::max(b.size.width, b.size.height));
    double weights = 0, sum = 0;
    const Pose back = pose.inverse();
    for (CellSums& c : cells) {
        if (c.n < 0.4 * cell * cell) continue;
        const double va = c.aa / c.n - (c.a / c.n) * (c.a / c.n), vb = c.bb / c.n - (c.b / c.n) * (c.b / c.n);
        const double spread = std::sqrt(std::max({0.0, va, vb}));
        if (spread < least_spread) continue;
        const double both = c.ab / c.n - (c.a / c.n) * (c.b / c.n);
        // Normalised by the stronger of the two, so that a faint trace does not count as a match.
        const double correlation = both / std::max({1e-9, std::sqrt(std::max(0.0, va * vb)), 0.6 * std::max(va, vb)});
        const cv::Point2d at = level.mm(c.centre * (1 / c.n));
        if (correlation >= 0.4) { // Cells that show the paper's edge in both pieces prove nothing.
            const unsigned of_a = outline_at(a, at), of_b = outline_at(b, back(at));
            if ((of_a & turned_sides(of_b, pose.radians)) != 0) continue;
        }
        const double weight = std::min(spread, 40.0);
        weights += weight;
        sum += weight * correlation;
        ++fit.details;
        if (correlation < 0.35 && spread > 3 * least_spread) ++fit.contradicting;
        if (correlation < least_correlation) continue;
        ++fit.agreeing;
        constexpr double grain = 3; // grey levels
        // Neighbouring pixels of a smoothed picture are correlated, so about one in eight is counted.
        fit.ties.push_back({at, back(at), c.tensor * (1 / (8 * grain * grain))});
    }
    fit.agreement = weights > 0 ? sum / weights : 0;
    fit.weakest_mm = weakest_of(fit.ties);
    return fit;
}

Fit fitted(const PieceLook& a, const PieceLook& b, const Pose& from) {
    Pose pose = from;
    double moved_mm = 0;
    for (int i = 0; i < 6; ++i) {
        if (!step_closer(a.soft, b.soft, pose, 3, 1.5, moved_mm) || moved_mm < 0.03) break;
    }
    Fit first = judged(a, b, pose);
    if (first.agreement < 0.35 && first.details > 10) return first;
    for (int i = 0; i < 8; ++i) {
        if (!step_closer(a.coarse, b.coarse, pose, first.area_mm2 > 8000 ? 2 : 1, 0.5, moved_mm) || moved_mm < 0.004)
            break;
    }
    Fit best = judged(a, b, pose);
    if (const Fit unmoved = judged(a, b, from); unmoved.agreement > best.agreement + 0.02) best = unmoved;
    return best;
}

namespace {
// Whether the content differs. Two copies of the same form agree in most of their content but are different items.
bool contradicts(const Fit& fit, double allowed) {
    if (fit.share > 0.8 && fit.contradicting > 2) return true;
    return fit.contradicting > std::max(1.0, allowed * fit.details);
}
}

bool fits(const Fit& fit) {
    return fit.agreeing >= 5 && fit.agreement >= 0.9 && fit.evidence() > 0 && fit.narrow_mm >= 3 &&
           fit.weakest_mm < 0.08 && !contradicts(fit, 0.03);
}

bool may_fit(const Fit& fit) {
    return fit.agreeing >= 5 && fit.agreement >= 0.8 && fit.agreeing >= 0.8 * fit.details && fit.narrow_mm >= 3 &&
           fit.weakest_mm < 0.15 && !contradicts(fit, 0.06);
}

namespace {

// Samples a square of a level in the coordinates of `a`. Returns false if it is not completely inside.
bool sampled(const LookLevel& level, const Pose& a_to_level, cv::Point2d centre, int half, double mm, cv::Mat& out) {
    out.create(2 * half + 1, 2 * half + 1, CV_32F);
    const cv::Point2d first = level.pixel(a_to_level(centre - cv::Point2d(half * mm, half * mm)));
    const cv::Point2d right = level.pixel(a_to_level(centre + cv::Point2d(half * mm, -half * mm)));
    const cv::Point2d below = level.pixel(a_to_level(centre + cv::Point2d(-half * mm, half * mm)));
    const cv::Point2d dx = (right - first) * (0.5 / half), dy = (below - first) * (0.5 / half);
    for (const cv::Point2d& corner : {first, right, below, right + below - first}) {
        if (corner.x < 2 || corner.y < 2 || corner.x > level.pixels.cols - 3 || corner.y > level.pixels.rows - 3)
            return false;
    }
    for (int j = 0; j <= 2 * half; ++j) {
        auto* row = out.ptr<float>(j);
        for (int i = 0; i <= 2 * half; ++i) {
            const cv::Point2d at = first + dx * i + dy * j;
            const int x = static_cast<int>(at.x), y = static_cast<int>(at.y);
            const auto fx = static_cast<float>(at.x - x), fy = static_cast<float>(at.y - y);
            const uchar* up = level.pixels.ptr(y) + x;
            const uchar* low = level.pixels.ptr(y + 1) + x;
            row[i] = (static_cast<float>(up[0]) * (1 - fx) + static_cast<float>(up[1]) * fx) * (1 - fy) +
                     (static_cast<float>(low[0]) * (1 - fx) + static_cast<float>(low[1]) * fx) * fy;
        }
    }
    return true;
}

// Normalises the square to mean 0 and standard deviation 1. Returns false if it is uniform.
bool evened(cv::Mat& square) {
    cv::Scalar mean, spread;
    cv::meanStdDev(square, mean, spread);
    if (spread[0] < 2) return false;
    square.convertTo(square, -1, 1 / spread[0], -mean[0] / spread[0]);
    return true;
}

std::optional<Tie> exact_tie(const PieceLook& a, const PieceLook& b, const Pose& back, const Tie& rough) {
    const double mm = std::max(a.fine.mm_x, b.fine.mm_x);
    const int half = std::max(8, static_cast<int>(std::lround(2.2 / mm)));
    cv::Mat of_a, of_b, soft;
    if (!sampled(a.fine, Pose{}, rough.at_a, half, mm, of_a) || !evened(of_a)) return std::nullopt;
    // Both are smoothed by one pixel: noise weighs less, and the gradients are valid over the possible error.
    cv::GaussianBlur(of_a, of_a, {}, 1.0);
    cv::Matx22d tensor = cv::Matx22d::zeros();
    cv::Point2d shift; // mm of a: b's content lies that far off
    double off_squares = 0, count = 0;
    for (int round = 0; round < 5; ++round) {
        Pose shifted = back;
        const cv::Point2d by = back(shift) - back({0, 0});
        shifted.x += by.x;
        shifted.y += by.y;
        if (!sampled(b.fine, shifted, rough.at_a, half, mm, of_b) || !evened(of_b)) return std::nullopt;
        cv::GaussianBlur(of_b, of_b, {}, 1.0);
        cv::Vec2d right;
        tensor = cv::Matx22d::zeros();
        off_squares = count = 0;
        for (int j = 2; j < 2 * half - 1; ++j) {
            const auto *pa = of_a.ptr<float>(j), *pb = of_b.ptr<float>(j);
            const auto *ua = of_a.ptr<float>(j - 1), *ub = of_b.ptr<float>(j - 1);
            const auto *la = of_a.ptr<float>(j + 1), *lb = of_b.ptr<float>(j + 1);
            for (int i = 2; i < 2 * half - 1; ++i) {
                // The mean of both slopes: exact to second order (as in B. Triggs et al.'s symmetric step).
                const double gx = (pa[i + 1] - pa[i - 1] + pb[i + 1] - pb[i - 1]) * 0.25;
                const double gy = (la[i] - ua[i] + lb[i] - ub[i]) * 0.25;
                const double off = pa[i] - pb[i];
                tensor += cv::Matx22d(gx * gx, gx * gy, gx * gy, gy * gy);
                right += cv::Vec2d(gx * off, gy * off);
                off_squares += off * off;
                count += 1;
            }
        }
        // Along an edge the position is undetermined and is not changed.
        const cv::Matx22d held = tensor + cv::Matx22d::eye() * (0.01 * cv::trace(tensor) + 1e-6);
        const cv::Vec2d by_px = held.inv() * right;
        const cv::Point2d step(by_px[0] * mm, by_px[1] * mm);
        shift += step;
        if (cv::norm(shift) > 1.0) return std::nullopt;
        if (cv::norm(step) < 0.01 * mm) break;
    }
    // If the two squares do not look the same, they are not tied.
    const double noise = off_squares / count;
    if (noise > 0.5) return std::nullopt;
    // Neighbouring pixels of a smoothed picture are correlated, so about one in eight is counted.
    return Tie{rough.at_a, back(rough.at_a + shift), tensor * (1 / (8 * std::max(noise, 0.01) * mm * mm))};
}

}

std::vector<Tie> exact_ties(const PieceLook& a, const PieceLook& b, const Pose& pose, size_t most) {
    std::vector<Tie> rough = judged(a, b, pose).ties;
    if (rough.size() > most) {
        // The ties are distributed over the overlap: of each group of n, the most precise one is kept.
        const double n = static_cast<double>(rough.size()) / static_cast<double>(most);
        std::vector<Tie> kept;
        for (size_t k = 0; k < most; ++k) {
            const auto from = static_cast<size_t>(static_cast<double>(k) * n);
            const auto to = std::min(rough.size(), static_cast<size_t>(static_cast<double>(k + 1) * n) + 1);
            kept.push_back(*std::max_element(
                rough.begin() + static_cast<long>(from), rough.begin() + static_cast<long>(to),
                [](const Tie& p, const Tie& q) { return cv::trace(p.certainty) < cv::trace(q.certainty); }));
        }
        rough = std::move(kept);
    }
    const Pose back = pose.inverse();
    std::vector<std::optional<Tie>> found(rough.size());
    cv::parallel_for_({0, static_cast<int>(rough.size())}, [&](const cv::Range& range) {
        for (int i = range.start; i < range.end; ++i)
            found[static_cast<size_t>(i)] = exact_tie(a, b, back, rough[static_cast<size_t>(i)]);
    });
    std::vector<Tie> out;
    for (const auto& tie : found)
        if (tie) out.push_back(*tie);
    return out;
}

}
