#include "core/ocr/paper_light.h"

#include "core/raster/raster.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cmath>

namespace yelvin {

namespace {

constexpr double light_dpi = 100;
// A large black letter is darker than this fraction of the paper around it; a shadow in which text is still legible is
// not.
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

cv::Mat divided_by_light(const cv::Mat& channel, const cv::Mat& light) {
    cv::Mat full;
    cv::resize(light, full, channel.size(), 0, 0, cv::INTER_LINEAR);
    cv::divide(channel, full, full, even_paper);
    return full;
}

namespace {

using LevelCounts = std::array<int64_t, 256>;

void count_levels(const cv::Mat& even, LevelCounts& counts) {
    for (int y = 0; y < even.rows; ++y)
        for (const uchar *at = even.ptr(y), *end = at + even.cols; at != end; ++at) ++counts[*at];
}

PaperGrain grain_of(const LevelCounts& counts) {
    const auto least = counts.begin() + 100;
    const auto most = std::max_element(least, counts.end() - 1);
    PaperGrain grain{static_cast<double>(most - counts.begin()), 0};
    int64_t above = 0, seen = 0;
    for (auto at = most; at != counts.end(); ++at) above += *at;
    for (auto at = most; at != counts.end() && seen < above * 68 / 100; ++at) {
        seen += *at;
        grain.spread = static_cast<double>(at - most) + 0.5;
    }
    return grain;
}

}

PaperGrain paper_grain(const cv::Mat& even) {
    LevelCounts counts{};
    count_levels(even, counts);
    return grain_of(counts);
}

namespace {

// Whether the paper is white enough, apart from a few places, to be left unchanged.
bool is_white(const cv::Mat& light) {
    const int dark = cv::countNonZero(light < 205);
    return dark < static_cast<int>(light.total()) / 200;
}

}

namespace {

constexpr int band_rows = 64;

// The brightness of the paper in one channel. It is stored in the page's full width; bands in full height are computed
// on request.
class Light {
  public:
    Light(const cv::Mat& light, cv::Size page) : rows_(page.height) {
        cv::resize(light, wide_, {page.width, light.rows}, 0, 0, cv::INTER_LINEAR);
    }
    // Returns the brightness of the rows from `from` up to but excluding `to`.
    cv::Mat band(int from, int to) const {
        cv::Mat out(to - from, wide_.cols, CV_8U);
        for (int y = from; y < to; ++y) {
            const double at = std::clamp((y + 0.5) * wide_.rows / rows_ - 0.5, 0.0, wide_.rows - 1.0);
            const int above = static_cast<int>(at), below = std::min(above + 1, wide_.rows - 1);
            cv::addWeighted(wide_.row(above), 1 - (at - above), wide_.row(below), at - above, 0, out.row(y - from));
        }
        return out;
    }

  private:
    cv::Mat wide_;
    int rows_;
};

// Processes a colour page band by band, so that no second picture of its size is needed apart from the result.
class ColourBands {
  public:
    ColourBands(const cv::Mat& page, const std::vector<Light>& lights) : page_(page), lights_(lights) {}

    template <class Take> // (first row, the three channels of the band)
    void each(Take take) const {
        for (int from = 0; from < page_.rows; from += band_rows) {
            const int to = std::min(from + band_rows, page_.rows);
            std::array<cv::Mat, 3> channels;
            cv::split(page_.rowRange(from, to), channels.data());
            for (size_t i = 0; i < channels.size(); ++i)
                cv::divide(channels[i], lights_[i].band(from, to), channels[i], even_paper);
            take(from, channels);
        }
    }

  private:
    const cv::Mat& page_;
    const std::vector<Light>& lights_;
};

}

Evened evened(const cv::Mat& page, double dpi) {
    if (page.channels() == 1) {
        const cv::Mat light = paper_light(page, dpi);
        return {divided_by_light(page, light), !is_white(light)};
    }
    Evened out;
    std::vector<Light> lights;
    std::array<double, 3> weight{};
    double sum = 0;
    for (size_t i = 0; i < 3; ++i) {
        cv::Mat channel;
        cv::extractChannel(page, channel, static_cast<int>(i));
        const cv::Mat light = paper_light(channel, dpi);
        lights.emplace_back(light, page.size());
        out.was_needed = out.was_needed || !is_white(light);
        weight[i] = std::pow(cv::mean(light)[0], 2);
        sum += weight[i];
    }
    const ColourBands bands(page, lights);
    std::array<LevelCounts, 3> levels{};
    bands.each([&](int, const std::array<cv::Mat, 3>& channels) {
        for (size_t i = 0; i < 3; ++i) count_levels(channels[i], levels[i]);
    });
    double spread = 0;
    for (const LevelCounts& each : levels) spread = std::max(spread, grain_of(each).spread);
    out.pixels.create(page.size(), CV_8U);
    int coloured = 0;
    bands.each([&](int from, const std::array<cv::Mat, 3>& channels) {
        cv::Mat all, darkest, colour;
        cv::addWeighted(channels[0], weight[0] / sum, channels[1], weight[1] / sum, 0, all);
        cv::scaleAdd(channels[2], weight[2] / sum, all, all);
        cv::min(channels[0], channels[1], darkest);
        cv::min(darkest, channels[2], darkest);
        // Differences between channels that are caused by grain do not count as colour.
        cv::add(darkest, 3 * spread, darkest);
        cv::subtract(all, darkest, colour);
        coloured += cv::countNonZero(colour > 20);
        cv::Mat pixels = out.pixels.rowRange(from, from + all.rows);
        cv::min(all, darkest, pixels);
    });
    out.was_needed = out.was_needed || coloured > static_cast<int>(out.pixels.total()) / 500;
    return out;
}

}
