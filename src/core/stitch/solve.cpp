#include "core/stitch/solve.h"

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

cv::Matx22d turned(const cv::Matx22d& certainty, double radians) {
    const cv::Matx22d r(std::cos(radians), -std::sin(radians), std::sin(radians), std::cos(radians));
    return r * certainty * r.t();
}

// The robust weight of a tie: its squared error relative to the usual one.
double trust(double squared, double usual) { return 1 / (1 + squared / (9 * usual)); }

double usual_square(const std::vector<Pose>& poses, const std::vector<TiedPair>& pairs) {
    std::vector<double> squares;
    for (const TiedPair& pair : pairs) {
        for (const Tie& tie : pair.ties) {
            const cv::Point2d off = poses[pair.a](tie.at_a) - poses[pair.b](tie.at_b);
            const cv::Vec2d r(off.x, off.y);
            squares.push_back(r.dot(turned(tie.certainty, poses[pair.a].radians) * r));
        }
    }
    if (squares.empty()) return 1;
    const auto middle = squares.begin() + static_cast<long>(squares.size() / 2);
    std::ranges::nth_element(squares, middle);
    return std::max(*middle, 1e-6);
}

}

void solve_poses(std::vector<Pose>& poses, const std::vector<TiedPair>& pairs, Scale scale) {
    constexpr double arm = 100; // mm: a turn by 1 / arm counts like a shift by 1 mm
    const int each = scale == Scale::Free ? 4 : 3;
    const int unknown = static_cast<int>(poses.size()) * each;
    for (int round = 0; round < 12; ++round) {
        const double usual = usual_square(poses, pairs);
        cv::Mat normal = cv::Mat::zeros(unknown, unknown, CV_64F), right = cv::Mat::zeros(unknown, 1, CV_64F);
        for (const TiedPair& pair : pairs) {
            const Pose &a = poses[pair.a], &b = poses[pair.b];
            for (const Tie& tie : pair.ties) {
                const cv::Point2d at_a = a(tie.at_a), at_b = b(tie.at_b);
                const cv::Matx22d certainty = turned(tie.certainty, a.radians);
                const cv::Vec2d off(at_a.x - at_b.x, at_a.y - at_b.y);
                const cv::Matx22d weighted = certainty * trust(off.dot(certainty * off), usual);
                // Each piece is rotated and scaled about its own origin.
                const auto slopes = [&](cv::Point2d at, const Pose& pose) {
                    const cv::Point2d p = at - cv::Point2d(pose.x, pose.y);
                    return cv::Matx<double, 2, 4>(-p.y / arm, 1, 0, p.x / arm, p.x / arm, 0, 1, p.y / arm);
                };
                const cv::Matx<double, 2, 4> ja = slopes(at_a, a), jb = -1 * slopes(at_b, b);
                const auto add = [&](size_t i, const cv::Matx<double, 2, 4>& ji, size_t j,
                                     const cv::Matx<double, 2, 4>& jj) {
                    const cv::Matx44d block = ji.t() * weighted * jj;
                    for (int r = 0; r < each; ++r)
                        for (int c = 0; c < each; ++c)
                            normal.at<double>(static_cast<int>(i) * each + r, static_cast<int>(j) * each + c) +=
                                block(r, c);
                };
                add(pair.a, ja, pair.a, ja);
                add(pair.a, ja, pair.b, jb);
                add(pair.b, jb, pair.a, ja);
                add(pair.b, jb, pair.b, jb);
                const cv::Vec4d ra = ja.t() * (weighted * off), rb = jb.t() * (weighted * off);
                for (int r = 0; r < each; ++r) {
                    right.at<double>(static_cast<int>(pair.a) * each + r) -= ra[r];
                    right.at<double>(static_cast<int>(pair.b) * each + r) -= rb[r];
                }
            }
        }
        // The first piece is fixed; undetermined unknowns are not changed.
        const double most = std::max(1.0, cv::norm(normal.diag(), cv::NORM_INF));
        for (int i = 0; i < unknown; ++i) normal.at<double>(i, i) += i < each ? most * 1e6 : most * 1e-12 + 1e-9;
        if (each == 4) { // Keeps scales near 1 unless the ties clearly differ.
            for (int i = 3; i < unknown; i += 4) normal.at<double>(i, i) += most * 1e-7;
        }
        cv::Mat step;
        if (!cv::solve(normal, right, step, cv::DECOMP_CHOLESKY)) return;
        double largest = 0;
        for (size_t i = 0; i < poses.size(); ++i) {
            const double* by = step.ptr<double>(static_cast<int>(i) * each);
            poses[i].radians += by[0] / arm;
            poses[i].x += by[1];
            poses[i].y += by[2];
            if (each == 4) poses[i].scale *= 1 + by[3] / arm;
            for (int k = 0; k < each; ++k) largest = std::max(largest, std::abs(by[k]));
        }
        if (largest < 1e-5) break;
    }
}

double off_by_mm(const TiedPair& pair, const Pose& a, const Pose& b) {
    double squares = 0, weights = 0;
    for (const Tie& tie : pair.ties) {
        const cv::Point2d off = a(tie.at_a) - b(tie.at_b);
        const cv::Vec2d r(off.x, off.y);
        squares += r.dot(turned(tie.certainty, a.radians) * r);
        weights += cv::trace(tie.certainty);
    }
    return weights > 0 ? std::sqrt(squares / weights) : 0;
}

double scale_between(const TiedPair& pair) {
    if (pair.ties.size() < 8) return 1;
    std::vector<Pose> poses(2);
    std::vector<cv::Point2d> from, to;
    for (const Tie& tie : pair.ties) {
        from.push_back(tie.at_b);
        to.push_back(tie.at_a);
    }
    poses[1] = rigid_between(from, to);
    solve_poses(poses, {{0, 1, pair.ties}}, Scale::Free);
    return 1 / poses[1].scale;
}

}
