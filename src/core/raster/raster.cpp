#include "core/raster/raster.h"

#include "core/raster/averaging.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>

namespace yelvin {

std::string_view ink_word(Ink ink) {
    constexpr std::array<std::string_view, 3> words{"colour", "grey", "black"};
    return words[static_cast<size_t>(ink)];
}

cv::Mat grey_pixels(const Raster& raster) {
    if (raster.pixels.channels() == 1) return raster.pixels;
    cv::Mat grey;
    cv::cvtColor(raster.pixels, grey, cv::COLOR_BGR2GRAY);
    return grey;
}

namespace {
std::array<int, 256> histogram(const cv::Mat& grey) {
    // Two counters used in turn, because most neighbours have the same level, and each increment would wait for the
    // previous one.
    std::array<std::array<int, 256>, 2> counts{};
    for (int y = 0; y < grey.rows; ++y) {
        const uchar* row = grey.ptr(y);
        int x = 0;
        for (; x + 1 < grey.cols; x += 2) {
            ++counts[0][row[x]];
            ++counts[1][row[x + 1]];
        }
        if (x < grey.cols) ++counts[0][row[x]];
    }
    for (size_t level = 0; level < 256; ++level) counts[0][level] += counts[1][level];
    return counts[0];
}
}

int paper_level(const cv::Mat& grey) {
    const auto counts = histogram(grey);
    // Smoothed over five levels, so that a single overfull level (255 in a clipped scan) does not decide alone.
    int best = 255;
    long best_count = -1;
    for (int level = 255; level >= 96; --level) {
        long sum = 0;
        for (int k = std::max(0, level - 2); k <= std::min(255, level + 2); ++k) sum += counts[static_cast<size_t>(k)];
        if (sum > best_count) {
            best_count = sum;
            best = level;
        }
    }
    return best;
}

int black_threshold(const cv::Mat& grey) {
    cv::Mat ignored;
    const int otsu = static_cast<int>(cv::threshold(grey, ignored, 0, 255, cv::THRESH_BINARY | cv::THRESH_OTSU));
    const int paper = paper_level(grey);
    return std::clamp(otsu, paper / 2, std::max(paper / 2, paper - 48));
}

Raster with_ink(const Raster& raster, Ink ink) {
    if (ink <= raster.ink) return raster;
    Raster out{grey_pixels(raster), raster.dpi, Ink::Grey};
    if (ink == Ink::Black) {
        cv::Mat black;
        cv::threshold(out.pixels, black, black_threshold(out.pixels), 255, cv::THRESH_BINARY);
        out = {black, raster.dpi, Ink::Black};
    }
    return out;
}

cv::Mat scaled(const cv::Mat& pixels, double across, double down, int interpolation) {
    const cv::Size size(cvRound(pixels.cols * across), cvRound(pixels.rows * down));
    cv::Mat out;
    const bool whole = size.width > 0 && size.height > 0;
    if (whole && interpolation == cv::INTER_AREA && across <= 1 && down <= 1 && pixels.depth() == CV_8U)
        return averaged(pixels, size, 1 / across, 1 / down);
    if (whole)
        cv::resize(pixels, out, {}, across, down, interpolation); // by exactly these factors
    else
        cv::resize(pixels, out, {std::max(1, size.width), std::max(1, size.height)}, 0, 0, interpolation);
    return out;
}

Raster at_resolution(const Raster& raster, double dpi) {
    if (dpi >= raster.dpi) return raster;
    const SizeMm size = raster.size_mm();
    Raster out{{}, dpi, raster.ink};
    const double steps = raster.dpi / dpi;
    const int whole = static_cast<int>(std::lround(steps));
    if (std::abs(steps - whole) < 1e-6) {
        // Averages whole blocks of pixels, so that nothing is smeared over their borders. Less than half a block at the
        // end is dropped, more is padded.
        const auto blocks = [whole](int length) { return std::max(1, (length + (whole - 1) / 2) / whole); };
        const int width = blocks(raster.width_px()), height = blocks(raster.height_px());
        const int right = width * whole - raster.width_px(), bottom = height * whole - raster.height_px();
        cv::Mat all = raster.pixels(
            cv::Rect(0, 0, std::min(raster.width_px(), width * whole), std::min(raster.height_px(), height * whole)));
        if (right > 0 || bottom > 0)
            cv::copyMakeBorder(all, all, 0, std::max(0, bottom), 0, std::max(0, right), cv::BORDER_REPLICATE);
        out.pixels = averaged(all, {width, height});
    } else {
        out.pixels = averaged(raster.pixels, {std::clamp(scanned_px(size.width, dpi), 1, raster.width_px()),
                                              std::clamp(scanned_px(size.height, dpi), 1, raster.height_px())});
    }
    if (raster.ink == Ink::Black) cv::threshold(out.pixels, out.pixels, 127, 255, cv::THRESH_BINARY);
    return out;
}

}
