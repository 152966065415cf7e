#include "core/reading/paper_light.h"

#include "core/raster/raster.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cmath>

namespace yelvin {

namespace {

constexpr double light_dpi = 100;
// A large black letter is darker than this share of the paper around it; a shadow that people still read in is not.
constexpr double darkest_paper = 0.35;

cv::Mat closed(const cv::Mat& small, double mm) {
    const int across = 2 * static_cast<int>(std::lround(mm * light_dpi / 25.4 / 2)) + 1;
    cv::Mat out;
    cv::morphologyEx(small, out, cv::MORPH_CLOSE, cv::getStructuringElement(cv::MORPH_RECT, {across, across}));
    return out;
}

}

cv::Mat paper_light(const cv::Mat& channel, double dpi) {
    const double down = std::min(1.0, light_dpi / dpi);
    cv::Mat small = scaled(channel, down, down, cv::INTER_AREA);
    cv::medianBlur(small, small, 3);
    cv::Mat light = cv::max(closed(small, 3), closed(small, 14) * darkest_paper);
    cv::GaussianBlur(light, light, {}, light_dpi / 25.4 * 0.2);
    return cv::max(light, 8);
}

cv::Mat divided(const cv::Mat& channel, const cv::Mat& light) {
    cv::Mat full, out;
    cv::resize(light, full, channel.size(), 0, 0, cv::INTER_LINEAR);
    cv::divide(channel, full, out, even_paper);
    return out;
}

PaperGrain paper_grain(const cv::Mat& even) {
    std::array<int64_t, 256> dots{};
    for (int y = 0; y < even.rows; ++y)
        for (const uchar *at = even.ptr(y), *end = at + even.cols; at != end; ++at) ++dots[*at];
    const auto least = dots.begin() + 100;
    const auto most = std::max_element(least, dots.end() - 1);
    PaperGrain grain{static_cast<double>(most - dots.begin()), 0};
    int64_t above = 0, seen = 0;
    for (auto at = most; at != dots.end(); ++at) above += *at;
    for (auto at = most; at != dots.end() && seen < above * 68 / 100; ++at) {
        seen += *at;
        grain.spread = static_cast<double>(at - most) + 0.5;
    }
    return grain;
}

namespace {

// White enough all over, but for a few places, to be left as it is.
bool is_white(const cv::Mat& light) {
    const int dark = cv::countNonZero(light < 205);
    return dark < static_cast<int>(light.total()) / 200;
}

}

Evened evened(const cv::Mat& page, double dpi) {
    if (page.channels() == 1) {
        const cv::Mat light = paper_light(page, dpi);
        return {divided(page, light), !is_white(light)};
    }
    Evened out;
    std::array<cv::Mat, 3> channels;
    cv::split(page, channels);
    std::array<double, 3> weight{};
    double sum = 0, spread = 0;
    for (size_t i = 0; i < 3; ++i) {
        const cv::Mat light = paper_light(channels[i], dpi);
        out.was_needed = out.was_needed || !is_white(light);
        weight[i] = std::pow(cv::mean(light)[0], 2);
        sum += weight[i];
        channels[i] = divided(channels[i], light);
        spread = std::max(spread, paper_grain(channels[i]).spread);
    }
    cv::Mat all, darkest;
    cv::addWeighted(channels[0], weight[0] / sum, channels[1], weight[1] / sum, 0, all);
    cv::scaleAdd(channels[2], weight[2] / sum, all, all);
    cv::min(channels[0], channels[1], darkest);
    cv::min(darkest, channels[2], darkest);
    // What the channels differ by through grain alone is no colour.
    cv::add(darkest, 3 * spread, darkest);
    cv::subtract(all, darkest, channels[0]);
    const int coloured = cv::countNonZero(channels[0] > 20);
    out.was_needed = out.was_needed || coloured > static_cast<int>(all.total()) / 500;
    cv::min(all, darkest, out.dots);
    return out;
}

}
