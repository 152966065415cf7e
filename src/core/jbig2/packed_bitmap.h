// A small picture of two levels in packed form, and how much one resembles another. Used to compare letters. A value;
// pure functions.
#pragma once

#include <opencv2/core.hpp>

#include <cstdint>
#include <optional>
#include <vector>

namespace yelvin {

class PackedBitmap {
  public:
    PackedBitmap() = default; // empty, without a size
    // Makes an empty bitmap.
    explicit PackedBitmap(cv::Size size);

    int width() const { return width_; }
    int height() const { return height_; }
    cv::Size size() const { return {width_, height_}; }
    int area() const { return area_; } // number of set pixels
    // Sets the pixels of row y from `from` up to, but not including, `to`. They must not be set yet.
    void set_run(int y, int from, int to);

    // Returns 64 pixels of row y, pixel x in the lowest bit. Pixels outside of the bitmap are 0.
    std::uint64_t pixels_at(int y, int x) const;
    bool at(int y, int x) const { return pixels_at(y, x) & 1; }
    // Returns the mean place of the set pixels; the bitmap must have some.
    cv::Point2d middle() const;
    // Returns the bitmap as CV_8UC1; 255 is set.
    cv::Mat mask() const;
    // Returns the bitmap with empty pixels added on each side.
    PackedBitmap padded(int left, int top, int right, int bottom) const;

    bool operator==(const PackedBitmap&) const = default;
    size_t hash() const;

  private:
    int width_ = 0, height_ = 0, area_ = 0;
    std::vector<std::uint64_t> words_; // row by row, the leftmost pixel in the lowest bit

    int words_in_row() const { return (width_ + 63) / 64; }
};

// How one bitmap lies on another.
struct BitmapMatch {
    cv::Point offset;  // place of the first one's pixel (0, 0) on the other
    int differing = 0; // number of pixels that are set in one of them only
};

// Returns the best match among `about` and the eight offsets around it. Returns nullopt if each of them has at least
// `limit` differing pixels.
std::optional<BitmapMatch> best_match(const PackedBitmap& a, const PackedBitmap& b, cv::Point about, int limit);

}
