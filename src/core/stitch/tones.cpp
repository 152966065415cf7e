#include "core/stitch/tones.h"

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

using Looks = std::vector<PieceLookPtr>;

struct ToneSample {
    std::array<double, 3> of_a, of_b; // by channel
    cv::Point2d at_a, at_b;           // -1 to 1 across each piece
};

struct PairOfTones {
    size_t a = 0, b = 0;
    std::vector<ToneSample> samples;
};

cv::Point2d across(const PieceLook& look, cv::Point2d mm) {
    return {2 * mm.x / look.size.width - 1, 2 * mm.y / look.size.height - 1};
}

std::array<double, 3> tone_at(const LookLevel& level, cv::Point2d mm) {
    const cv::Point2d pixel = level.pixel(mm);
    const int x = static_cast<int>(std::lround(pixel.x)), y = static_cast<int>(std::lround(pixel.y));
    std::array<double, 3> sum{};
    for (int j = -1; j <= 1; ++j) {
        for (int i = -1; i <= 1; ++i) {
            for (int c = 0; c < 3; ++c) {
                sum[static_cast<size_t>(c)] += level.pixels.channels() == 3
                                                   ? level.pixels.at<cv::Vec3b>(y + j, x + i)[c]
                                                   : level.pixels.at<uchar>(y + j, x + i);
            }
        }
    }
    for (double& s : sum) s /= 9;
    return sum;
}

bool well_inside(const LookLevel& level, cv::Point2d mm) {
    const cv::Point2d pixel = level.pixel(mm);
    return pixel.x >= 4 && pixel.y >= 4 && pixel.x <= level.pixels.cols - 5 && pixel.y <= level.pixels.rows - 5;
}

double slope_at(const LookLevel& level, cv::Point2d mm) {
    const cv::Point2d pixel = level.pixel(mm);
    const int x = static_cast<int>(std::lround(pixel.x)), y = static_cast<int>(std::lround(pixel.y));
    const cv::Mat& p = level.pixels;
    return std::hypot(p.at<float>(y, x + 2) - p.at<float>(y, x - 2), p.at<float>(y + 2, x) - p.at<float>(y - 2, x));
}

// Samples uniform places of the overlap; those that are overexposed only if there are no others.
PairOfTones tones_of(const Looks& looks, const Layout& layout, const Seam& seam) {
    PairOfTones out{seam.a, seam.b, {}};
    std::vector<ToneSample> clipped;
    const PieceLook &a = *looks[seam.a], &b = *looks[seam.b];
    const Pose back_a = layout.pieces[seam.a].pose.inverse(), back_b = layout.pieces[seam.b].pose.inverse();
    const cv::Rect2d box =
        bounds_of(layout.pieces[seam.a].pose, a.size) & bounds_of(layout.pieces[seam.b].pose, b.size);
    const double step = std::max(0.7, std::sqrt(box.area() / 60000));
    for (double y = box.y; y < box.y + box.height; y += step) {
        for (double x = box.x; x < box.x + box.width; x += step) {
            const cv::Point2d in_a = back_a({x, y}), in_b = back_b({x, y});
            if (!well_inside(a.colour, in_a) || !well_inside(b.colour, in_b)) continue;
            if (slope_at(a.coarse, in_a) > 24 || slope_at(b.coarse, in_b) > 24) continue;
            const auto ta = tone_at(a.colour, in_a), tb = tone_at(b.colour, in_b);
            bool differs = false, over = false;
            for (size_t c = 0; c < 3; ++c) {
                differs = differs || std::abs(ta[c] - tb[c]) > 12 + 0.2 * std::max(ta[c], tb[c]);
                over = over || std::max(ta[c], tb[c]) > 251;
            }
            if (!differs) (over ? clipped : out.samples).push_back({ta, tb, across(a, in_a), across(b, in_b)});
        }
    }
    if (out.samples.size() < 200) out.samples.insert(out.samples.end(), clipped.begin(), clipped.end());
    return out;
}

constexpr int each = 6; // unknowns of a piece: five of the gain, and the offset

// The least-squares problem of one channel: a gain and an offset for each piece, kept near 1 and 0.
struct Equations {
    cv::Mat normal, right;

    explicit Equations(size_t pieces) {
        constexpr double usual_gain = 0.06, usual_slope = 0.02, usual_offset = 2.5;
        const int unknown = static_cast<int>(pieces) * each;
        normal = cv::Mat::zeros(unknown, unknown, CV_64F);
        right = cv::Mat::zeros(unknown, 1, CV_64F);
        for (int i = 0; i < unknown; ++i) {
            const int k = i % each;
            const double usual = k == 0 ? usual_gain : k < 5 ? usual_slope : usual_offset;
            normal.at<double>(i, i) = 1 / (usual * usual);
            if (k == 0) right.at<double>(i) = normal.at<double>(i, i);
        }
    }

    // Requires both pieces to have the same value at each sample.
    void add(const PairOfTones& pair, size_t channel) {
        constexpr double usual_off = 3;
        // Neighbouring samples are correlated, so the weight of a seam is limited to 400 samples.
        const double weight = std::min(1.0, 400.0 / static_cast<double>(pair.samples.size())) / (usual_off * usual_off);
        const int a = static_cast<int>(pair.a) * each, b = static_cast<int>(pair.b) * each;
        const auto at = [&](size_t p) { return p < each ? a + static_cast<int>(p) : b + static_cast<int>(p) - each; };
        for (const ToneSample& s : pair.samples) {
            const auto ja = terms(s.of_a[channel], s.at_a, 1), jb = terms(s.of_b[channel], s.at_b, -1);
            const auto j = [&](size_t p) { return p < each ? ja[p] : jb[p - each]; };
            for (size_t p = 0; p < 2 * each; ++p)
                for (size_t q = 0; q < 2 * each; ++q) normal.at<double>(at(p), at(q)) += weight * j(p) * j(q);
        }
    }

  private:
    static std::array<double, each> terms(double value, cv::Point2d at, double sign) {
        return {sign * value,
                sign * value * at.x,
                sign * value * at.y,
                sign * value * at.x * at.x,
                sign * value * at.y * at.y,
                sign};
    }
};

// Normalises the result, so that the picture keeps its overall brightness.
void put(const cv::Mat& solution, size_t channel, std::vector<Tones>& out) {
    double mean = 0;
    for (int i = 0; i < solution.rows; i += each)
        mean += (solution.at<double>(i) + (solution.at<double>(i + 3) + solution.at<double>(i + 4)) / 3) /
                static_cast<double>(out.size());
    for (size_t i = 0; i < out.size(); ++i) {
        const double* own = solution.ptr<double>(static_cast<int>(i) * each);
        for (size_t k = 0; k < 5; ++k) out[i].gain[channel][k] = own[k] / mean;
        out[i].offset[channel] = own[5] / mean;
    }
}

// Whether the correction is visible.
bool is_seen(const Tones& t) {
    constexpr double light = 200, visible = 0.7; // grey levels
    for (size_t c = 0; c < 3; ++c)
        for (const double x : {-1.0, 0.0, 1.0})
            for (const double y : {-1.0, 0.0, 1.0})
                if (std::abs(t.gain_at(c, x, y) * light + t.offset[c] - light) > visible) return true;
    return false;
}

}

std::vector<Tones> even_tones(const Looks& looks, const Layout& layout) {
    constexpr size_t least_samples = 50;
    std::vector<Tones> out(looks.size());
    std::vector<PairOfTones> pairs;
    for (const Seam& seam : layout.seams) {
        if (looks[seam.a]->ink == Ink::Black || looks[seam.b]->ink == Ink::Black) return out;
        if (seam.agreement > 0.5 || seam.empty) pairs.push_back(tones_of(looks, layout, seam));
    }
    std::erase_if(pairs, [](const PairOfTones& pair) { return pair.samples.size() < least_samples; });
    for (size_t c = 0; c < 3; ++c) {
        Equations equations(looks.size());
        for (const PairOfTones& pair : pairs) equations.add(pair, c);
        cv::Mat solution;
        if (cv::solve(equations.normal, equations.right, solution, cv::DECOMP_CHOLESKY)) put(solution, c, out);
    }
    if (std::ranges::none_of(out, is_seen)) out.assign(looks.size(), {});
    return out;
}

}
