#include "core/raster/averaging.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

namespace yelvin {

namespace {

// The source pixels that one pixel of the result covers in one direction: a part of the pixel `first`, `whole` complete
// pixels, and a part of the pixel after them.
struct Cover {
    int first = 0, whole = 0;
    float at_first = 0, at_whole = 0, at_last = 0; // Weights; together 1 over the pixels that are covered.
};

std::vector<Cover> covers(int count, double step, int length, double from) {
    std::vector<Cover> out(static_cast<size_t>(count));
    for (int i = 0; i < count; ++i) {
        const double begin = std::min(from + i * step, length - 1.0),
                     end = std::min(begin + step, static_cast<double>(length));
        // Differences below 0.0001 are rounding errors.
        const int first = static_cast<int>(std::floor(begin + 1e-4)),
                  last = static_cast<int>(std::ceil(end - 1e-4)) - 1;
        const double all = end - begin, one = std::min(end, first + 1.0) - begin;
        Cover& cover = out[static_cast<size_t>(i)];
        cover.first = first;
        cover.whole = std::max(0, last - first - 1);
        cover.at_first = static_cast<float>(one / all);
        cover.at_whole = static_cast<float>(1 / all);
        cover.at_last = last > first ? static_cast<float>((end - last) / all) : 0;
    }
    return out;
}

// Computes the mean of rows as one row. `sums` is a buffer.
void mean_of_rows(const cv::Mat& pixels, const Cover& cover, std::vector<ushort>& sums, std::vector<float>& mean) {
    const auto length = static_cast<size_t>(pixels.cols) * static_cast<size_t>(pixels.channels());
    const uchar* first = pixels.ptr(cover.first);
    const uchar* last = pixels.ptr(std::min(pixels.rows - 1, cover.first + 1 + cover.whole));
    if (cover.whole == 0) {
        for (size_t k = 0; k < length; ++k)
            mean[k] = cover.at_first * static_cast<float>(first[k]) + cover.at_last * static_cast<float>(last[k]);
        return;
    }
    const uchar* row = pixels.ptr(cover.first + 1);
    for (size_t k = 0; k < length; ++k) sums[k] = row[k];
    for (int i = 2; i <= cover.whole; ++i) {
        row = pixels.ptr(cover.first + i);
        for (size_t k = 0; k < length; ++k) sums[k] = static_cast<ushort>(sums[k] + row[k]);
    }
    for (size_t k = 0; k < length; ++k)
        mean[k] = cover.at_first * static_cast<float>(first[k]) + cover.at_whole * static_cast<float>(sums[k]) +
                  cover.at_last * static_cast<float>(last[k]);
}

uchar level(float value) { return static_cast<uchar>(std::min(255.0F, value + 0.5F)); }

template <int channels>
void mean_of_columns(const std::vector<float>& row, const std::vector<Cover>& columns, uchar* out) {
    for (const Cover& cover : columns) {
        const float* at = row.data() + static_cast<ptrdiff_t>(cover.first) * channels;
        float sum[4] = {}; // four at once, of which a colour needs three
        constexpr int lanes = channels == 1 ? 1 : 4;
        for (int i = 0; i < cover.whole; ++i) {
            at += channels;
            for (int c = 0; c < lanes; ++c) sum[c] += at[c];
        }
        const float* first = row.data() + static_cast<ptrdiff_t>(cover.first) * channels;
        at += channels;
        for (int c = 0; c < lanes; ++c)
            sum[c] = cover.at_first * first[c] + cover.at_whole * sum[c] + cover.at_last * at[c];
        for (int c = 0; c < channels; ++c) *out++ = level(sum[c]);
    }
}

// Computes the result by summing rows first: these loops are the longest, and the compiler vectorises them.
template <int channels>
cv::Mat by_rows_then_columns(const cv::Mat& pixels, cv::Size size, double across, double down, cv::Point2d from) {
    cv::Mat out(size, pixels.type());
    const auto columns = covers(size.width, across, pixels.cols, from.x),
               rows = covers(size.height, down, pixels.rows, from.y);
    // Two more pixels, because the loop reads past the end with weight 0.
    const auto length = static_cast<size_t>(pixels.cols + 2) * channels;
    std::vector<ushort> sums(length);
    std::vector<float> mean(length);
    for (int y = 0; y < size.height; ++y) {
        mean_of_rows(pixels, rows[static_cast<size_t>(y)], sums, mean);
        mean_of_columns<channels>(mean, columns, out.ptr(y));
    }
    return out;
}

}

cv::Mat averaged(const cv::Mat& pixels, cv::Size size, double across, double down, cv::Point2d from) {
    CV_Assert(from.x >= 0 && from.y >= 0 && across >= 1 && down >= 1 &&
              (pixels.type() == CV_8UC1 || pixels.type() == CV_8UC3));
    constexpr double most_rows = 256; // The sum of this many rows fits into 16 bits.
    const bool halved = across == 2 && down == 2 && from == cv::Point2d() && pixels.cols >= 2 * size.width &&
                        pixels.rows >= 2 * size.height;
    if (halved) { // OpenCV is faster for this case.
        cv::Mat out;
        cv::resize(pixels(cv::Rect(0, 0, 2 * size.width, 2 * size.height)), out, size, 0, 0, cv::INTER_AREA);
        return out;
    }
    if (down >= most_rows)
        return averaged(averaged(pixels, {pixels.cols, (pixels.rows + 127) / 128}, 1, 128), size, across, down / 128,
                        {from.x, from.y / 128});
    return pixels.channels() == 1 ? by_rows_then_columns<1>(pixels, size, across, down, from)
                                  : by_rows_then_columns<3>(pixels, size, across, down, from);
}

cv::Mat averaged(const cv::Mat& pixels, cv::Size size) {
    return averaged(pixels, size, static_cast<double>(pixels.cols) / size.width,
                    static_cast<double>(pixels.rows) / size.height);
}
}
