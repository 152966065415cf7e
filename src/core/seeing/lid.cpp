#include "core/seeing/lid.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

struct LidSample {
    double x = 0, y = 0;
    std::array<double, 3> level{};
};

std::array<double, 5> terms(double x, double y) { return {1, x, x * x, y, y * y}; }

// Returns samples of a band along the edge of the picture, each smoothed with its neighbours.
std::vector<LidSample> rim_samples(const Raster& raster) {
    const cv::Mat& m = raster.pixels;
    cv::Mat smooth;
    cv::blur(m, smooth, {3, 3});
    const int begin = std::max(1, static_cast<int>(mm_to_px(0.8, raster.dpi))),
              end = std::max(begin + 2, static_cast<int>(mm_to_px(3.0, raster.dpi))), step = 2;
    std::vector<LidSample> samples;
    const auto take = [&](int x, int y) {
        LidSample s{2.0 * x / m.cols - 1, 2.0 * y / m.rows - 1, {}};
        const uchar* at = smooth.ptr(y) + x * m.channels();
        for (int c = 0; c < 3; ++c) s.level[static_cast<size_t>(c)] = at[m.channels() == 3 ? c : 0];
        samples.push_back(s);
    };
    for (int off = begin; off < end && off < m.rows / 2 && off < m.cols / 2; off += step) {
        for (int x = begin; x < m.cols - begin; x += step) {
            take(x, off);
            take(x, m.rows - 1 - off);
        }
        for (int y = end; y < m.rows - end; y += step) {
            take(off, y);
            take(m.cols - 1 - off, y);
        }
    }
    return samples;
}

double farthest(const Lid& lid, const LidSample& s) {
    const auto t = terms(s.x, s.y);
    double most = 0;
    for (size_t c = 0; c < 3; ++c) {
        double level = 0;
        for (size_t i = 0; i < 5; ++i) level += lid.surface[c][i] * t[i];
        most = std::max(most, std::abs(level - s.level[c]));
    }
    return most;
}

// A least-squares fit over the samples within `reach` of the current surface. A small penalty on the curvature keeps
// the rest flat if the rim is visible on one side only.
void fit(Lid& lid, const std::vector<LidSample>& samples, double reach) {
    cv::Matx<double, 5, 5> normal = cv::Matx<double, 5, 5>::zeros();
    std::array<cv::Matx<double, 5, 1>, 3> right{};
    double used = 0;
    for (const LidSample& s : samples) {
        if (farthest(lid, s) > reach) continue;
        const auto t = terms(s.x, s.y);
        for (int i = 0; i < 5; ++i) {
            for (int j = 0; j < 5; ++j) normal(i, j) += t[static_cast<size_t>(i)] * t[static_cast<size_t>(j)];
            for (size_t c = 0; c < 3; ++c) right[c](i, 0) += t[static_cast<size_t>(i)] * s.level[c];
        }
        ++used;
    }
    if (used < 20) return;
    for (int i = 1; i < 5; ++i) normal(i, i) += 0.004 * used;
    for (size_t c = 0; c < 3; ++c) {
        const auto solved = normal.solve(right[c], cv::DECOMP_CHOLESKY);
        for (int i = 0; i < 5; ++i) lid.surface[c][static_cast<size_t>(i)] = solved(i, 0);
    }
}

// Returns the most frequent colour, first coarsely and then exactly.
std::array<double, 3> most_frequent(const std::vector<LidSample>& samples) {
    constexpr int bins = 32, width = 256 / bins;
    std::vector<int> counts(bins * bins * bins);
    const auto bin = [](const LidSample& s) {
        size_t at = 0;
        for (const double level : s.level)
            at = at * bins + static_cast<size_t>(std::clamp(static_cast<int>(level) / width, 0, bins - 1));
        return at;
    };
    for (const LidSample& s : samples) ++counts[bin(s)];
    const auto best = static_cast<size_t>(std::ranges::max_element(counts) - counts.begin());
    std::array<double, 3> sum{};
    int count = 0;
    for (const LidSample& s : samples) {
        if (bin(s) != best) continue;
        for (size_t c = 0; c < 3; ++c) sum[c] += s.level[c];
        ++count;
    }
    for (double& level : sum) level /= std::max(1, count);
    return sum;
}

// The spread of single pixels around the surface along the rim; the median ignores items that lie there.
double grain_of(const Raster& raster, const Lid& lid) {
    const cv::Mat off = off_lid(raster, lid);
    const int band = std::max(2, static_cast<int>(mm_to_px(4, raster.dpi)));
    std::vector<float> values;
    for (int y = 1; y < off.rows - 1; y += 2) {
        const bool whole = y < band || y >= off.rows - band;
        for (int x = 1; x < off.cols - 1; ++x) {
            if (!whole && x >= band && x < off.cols - band) x = off.cols - band;
            if (off.at<float>(y, x) < 12) values.push_back(off.at<float>(y, x));
        }
    }
    if (values.size() < 50) return 2;
    const auto middle = values.begin() + std::ssize(values) / 2;
    std::ranges::nth_element(values, middle);
    return std::clamp(*middle / 1.1, 0.3, 8.0); // the median of the largest of three, of a normal spread, is about 1.1
}

}

std::vector<Lid> lids_at_rim(const Raster& raster) {
    std::vector<LidSample> samples = rim_samples(raster);
    const auto all = static_cast<double>(samples.size());
    std::vector<Lid> lids;
    while (lids.size() < 3 && static_cast<double>(samples.size()) > 0.05 * all) {
        Lid lid;
        const auto level = most_frequent(samples);
        for (size_t c = 0; c < 3; ++c) lid.surface[c][0] = level[c];
        for (const double reach : {9.0, 7.0, 5.0, 4.0}) fit(lid, samples, reach);
        const size_t before = samples.size();
        std::erase_if(samples, [&](const LidSample& s) { return farthest(lid, s) < 6; });
        lid.share = static_cast<double>(before - samples.size()) / all;
        if (before == samples.size()) break;
        if (lid.share < 0.05) continue;
        lid.grain = grain_of(raster, lid);
        lids.push_back(lid);
    }
    return lids;
}

namespace {
// `pixels` is the part `part` of a picture of the size `whole`.
cv::Mat off_part(const cv::Mat& pixels, const Lid& lid, const cv::Rect& part, cv::Size whole) {
    cv::Mat off(pixels.size(), CV_32FC1);
    const auto channels = static_cast<size_t>(pixels.channels());
    std::vector<double> across(channels * static_cast<size_t>(pixels.cols));
    for (int x = 0; x < pixels.cols; ++x) {
        const auto t = terms(2.0 * (part.x + x) / whole.width - 1, 0);
        for (size_t c = 0; c < channels; ++c) {
            const auto& s = lid.surface[c];
            across[static_cast<size_t>(x) * channels + c] = s[0] + s[1] * t[1] + s[2] * t[2];
        }
    }
    for (int y = 0; y < pixels.rows; ++y) {
        const auto t = terms(0, 2.0 * (part.y + y) / whole.height - 1);
        double down[3] = {};
        for (size_t c = 0; c < channels; ++c) down[c] = lid.surface[c][3] * t[3] + lid.surface[c][4] * t[4];
        const uchar* in = pixels.ptr(y);
        auto* out = off.ptr<float>(y);
        for (size_t x = 0; x < static_cast<size_t>(pixels.cols); ++x) {
            double most = 0;
            for (size_t c = 0; c < channels; ++c)
                most = std::max(most, std::abs(in[x * channels + c] - across[x * channels + c] - down[c]));
            out[x] = static_cast<float>(most);
        }
    }
    return off;
}
}

cv::Mat off_lid(const Raster& raster, const Lid& lid) {
    return off_part(raster.pixels, lid, {0, 0, raster.width_px(), raster.height_px()}, raster.pixels.size());
}

cv::Mat smooth_off_lid(const Raster& raster, const Lid& lid, const cv::Rect& part) {
    cv::Mat smooth;
    cv::blur(raster.pixels(part), smooth, {3, 3});
    return off_part(smooth, lid, part, raster.pixels.size());
}

}
