#include "core/seeing/soft_edges.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

namespace yelvin {

namespace {

constexpr double narrow_px = 0.6, wide_px = 1.5; // standard deviations
constexpr int reach_px = 6;                      // how far smoothing and the gradient look

cv::Mat1f energies(const cv::Mat1f& grey, double smoothing_px) {
    cv::Mat1f smooth, across, down;
    cv::GaussianBlur(grey, smooth, {0, 0}, smoothing_px);
    const cv::Mat1f difference = (cv::Mat1f(1, 3) << -0.5F, 0, 0.5F);
    cv::filter2D(smooth, across, -1, difference);
    cv::filter2D(smooth, down, -1, difference.t());
    cv::Mat1f energy;
    cv::add(across.mul(across), down.mul(down), energy);
    return energy;
}

// The combined energy of a stroke's two edges: they weaken each other once smoothing reaches from one to the other. The
// central difference smooths as well, like a box of two pixels (variance 1/3).
double stroke_energy(double blur, double smoothing, double stroke) {
    const double total = blur * blur + smoothing * smoothing + 1.0 / 3;
    return (1 - std::exp(-stroke * stroke / (4 * total))) / std::sqrt(total);
}

}

EdgeEnergy& EdgeEnergy::operator+=(const EdgeEnergy& other) {
    narrow += other.narrow;
    wide += other.wide;
    pixels += other.pixels;
    return *this;
}

// The grain is measured in tiles all over the page. The energy of grain alone has an exponential distribution, since it
// is the sum of two squared normal variables; its mean follows from the lower quartile, which is bare paper even if
// half of the page is printed.
SoftEdges::SoftEdges(const cv::Mat& grey) : grey_(grey) {
    constexpr int tile = 32, apart = 96;
    std::vector<float> narrow, wide;
    for (int y = tile; y + 2 * tile < grey.rows; y += apart) {
        for (int x = tile; x + 2 * tile < grey.cols; x += apart) {
            const cv::Rect around(x - reach_px, y - reach_px, tile + 2 * reach_px, tile + 2 * reach_px);
            cv::Mat1f part;
            grey(around).convertTo(part, CV_32F);
            const cv::Rect inner(reach_px, reach_px, tile, tile);
            const auto take = [&](std::vector<float>& into, double smoothing) {
                const cv::Mat1f all = energies(part, smoothing)(inner).clone();
                into.insert(into.end(), all.begin(), all.end());
            };
            take(narrow, narrow_px);
            take(wide, wide_px);
        }
    }
    const auto mean_by_quarter = [](std::vector<float>& values) {
        if (values.empty()) return 0.0;
        const auto quarter = values.begin() + static_cast<ptrdiff_t>(values.size() / 4);
        std::ranges::nth_element(values, quarter);
        return *quarter / std::log(4.0 / 3);
    };
    narrow_grain_ = mean_by_quarter(narrow);
    wide_grain_ = mean_by_quarter(wide);
}

EdgeEnergy SoftEdges::energy(const cv::Mat1b& where, cv::Point at) const {
    const cv::Rect page({0, 0}, grey_.size()), here(at, where.size());
    const cv::Rect around =
        cv::Rect(here.x - reach_px, here.y - reach_px, here.width + 2 * reach_px, here.height + 2 * reach_px) & page;
    cv::Mat1f part;
    grey_(around).convertTo(part, CV_32F);
    const cv::Rect seen = here & page;
    const cv::Mat1b counted = where(cv::Rect(seen.tl() - here.tl(), seen.size()));
    const cv::Rect inner(seen.tl() - around.tl(), seen.size());
    EdgeEnergy out;
    out.pixels = cv::countNonZero(counted);
    const auto sum = [&](double smoothing) {
        return cv::mean(energies(part, smoothing)(inner), counted)[0] * out.pixels;
    };
    out.narrow = sum(narrow_px) - narrow_grain_ * out.pixels;
    out.wide = sum(wide_px) - wide_grain_ * out.pixels;
    return out;
}

double SoftEdges::blur_of(const EdgeEnergy& energy, double stroke) {
    if (energy.wide <= 0 || energy.narrow <= energy.wide) return softest;
    const double ratio = energy.narrow / energy.wide;
    const auto of = [&](double blur) {
        return stroke_energy(blur, narrow_px, stroke) / stroke_energy(blur, wide_px, stroke);
    };
    double low = 0, high = softest; // the softer, the smaller the ratio
    for (int i = 0; i < 20; ++i) {
        const double middle = (low + high) / 2;
        (of(middle) > ratio ? low : high) = middle;
    }
    return (low + high) / 2;
}

}
