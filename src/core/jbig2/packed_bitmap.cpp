#include "core/jbig2/packed_bitmap.h"

#include <algorithm>
#include <bit>

namespace yelvin {

PackedBitmap::PackedBitmap(cv::Size size)
    : width_(size.width), height_(size.height), words_(static_cast<size_t>(words_in_row()) * size.height) {}

void PackedBitmap::set_run(int y, int from, int to) {
    std::uint64_t* row = words_.data() + static_cast<std::ptrdiff_t>(y) * words_in_row();
    for (int x = from; x < to; ++x) row[x / 64] |= std::uint64_t{1} << (x % 64);
    area_ += to - from;
}

std::uint64_t PackedBitmap::pixels_at(int y, int x) const {
    if (y < 0 || y >= height_) return 0;
    const int in_row = words_in_row();
    const std::uint64_t* row = words_.data() + static_cast<std::ptrdiff_t>(y) * in_row;
    const int word = x >= 0 ? x / 64 : -((63 - x) / 64), shift = x - word * 64;
    const auto word_at = [&](int i) { return i >= 0 && i < in_row ? row[i] : 0; };
    return shift == 0 ? word_at(word) : word_at(word) >> shift | word_at(word + 1) << (64 - shift);
}

cv::Point2d PackedBitmap::middle() const {
    double across = 0, down = 0;
    for (int y = 0; y < height_; ++y)
        for (int x = 0; x < width_; x += 64) {
            std::uint64_t bits = pixels_at(y, x);
            down += static_cast<double>(y) * std::popcount(bits);
            for (; bits != 0; bits &= bits - 1) across += x + std::countr_zero(bits);
        }
    return {across / area_, down / area_};
}

cv::Mat PackedBitmap::mask() const {
    cv::Mat out = cv::Mat::zeros(height_, width_, CV_8UC1);
    for (int y = 0; y < height_; ++y) {
        uchar* row = out.ptr(y);
        for (int x = 0; x < width_; x += 64)
            for (std::uint64_t bits = pixels_at(y, x); bits != 0; bits &= bits - 1)
                row[x + std::countr_zero(bits)] = 255;
    }
    return out;
}

PackedBitmap PackedBitmap::padded(int left, int top, int right, int bottom) const {
    PackedBitmap out(cv::Size(width_ + left + right, height_ + top + bottom));
    for (int y = 0; y < height_; ++y)
        for (int x = 0; x < width_; ++x)
            if (at(y, x)) out.set_run(y + top, x + left, x + left + 1);
    return out;
}

size_t PackedBitmap::hash() const {
    constexpr std::uint64_t odd = 0x9E3779B97F4A7C15U; // the golden ratio as a fraction of 2^64
    std::uint64_t hash = static_cast<std::uint64_t>(width_) << 32 | static_cast<std::uint32_t>(height_);
    for (const std::uint64_t word : words_) {
        hash = (hash ^ word) * odd;
        hash ^= hash >> 29;
    }
    return hash;
}

namespace {

// Returns the number of differing pixels. Stops at the end of a row once it has reached `limit`.
int differing(const PackedBitmap& a, const PackedBitmap& b, cv::Point offset, int limit) {
    const cv::Rect all = cv::Rect({0, 0}, b.size()) | cv::Rect(offset, a.size());
    int count = 0;
    for (int y = all.y; y < all.br().y && count < limit; ++y)
        for (int x = all.x; x < all.br().x; x += 64)
            count += std::popcount(a.pixels_at(y - offset.y, x - offset.x) ^ b.pixels_at(y, x));
    return count;
}

}

std::optional<BitmapMatch> best_match(const PackedBitmap& a, const PackedBitmap& b, cv::Point about, int limit) {
    static const cv::Point around[] = {{0, 0}, {-1, 0}, {1, 0}, {0, -1}, {0, 1}, {-1, -1}, {1, -1}, {-1, 1}, {1, 1}};
    std::optional<BitmapMatch> best;
    for (const cv::Point& step : around) {
        const int least = best ? best->differing : limit;
        if (const int count = differing(a, b, about + step, least); count < least) best = {about + step, count};
    }
    return best;
}

}
