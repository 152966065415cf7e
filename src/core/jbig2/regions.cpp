#include "core/jbig2/regions.h"

#include <algorithm>
#include <cstring>

namespace yelvin {

namespace {

constexpr int reach = 4; // pixels that a template looks to each side

// A row of pixels as 0 and 1, with empty pixels on both sides.
class Row {
  public:
    explicit Row(int width) : bits_(static_cast<size_t>(width) + 2 * reach) {}
    // Takes a row of the mask, which is empty outside of it. The first pixel of the mask is put at pixel `from`.
    void take(const cv::Mat& mask, int y, int from = 0) {
        std::ranges::fill(bits_, std::uint8_t{0});
        if (y < 0 || y >= mask.rows) return;
        const uchar* pixels = mask.ptr(y);
        const int width = static_cast<int>(bits_.size()) - 2 * reach;
        const int first = std::max(-reach, from), last = std::min(width + reach, from + mask.cols);
        for (int x = first; x < last; ++x) bits_.data()[x + reach] = pixels[x - from] != 0;
    }
    unsigned at(int x) const { return bits_.data()[x + reach]; }
    bool operator==(const Row&) const = default;

  private:
    std::vector<std::uint8_t> bits_;
};

}

void GenericContexts::encode(ArithmeticEncoder& encoder, const cv::Mat& mask, bool typical) {
    constexpr unsigned row_is_typical = 0x9B25; // figure 8
    Row two_above(mask.cols), above(mask.cols), row(mask.cols);
    bool was_typical = false;
    for (int y = 0; y < mask.rows; ++y) {
        std::swap(two_above, above);
        std::swap(above, row);
        row.take(mask, y);
        if (typical) {
            const bool is_typical = row == above;
            encoder.encode(contexts_[row_is_typical], is_typical != was_typical);
            was_typical = is_typical;
            if (is_typical) continue;
        }
        // Figure 3, with the adaptive pixels at their nominal places.
        unsigned first = two_above.at(0) << 1 | two_above.at(1);
        unsigned second = above.at(0) << 2 | above.at(1) << 1 | above.at(2);
        unsigned third = 0;
        for (int x = 0; x < mask.cols; ++x) {
            first = (first << 1 | two_above.at(x + 2)) & 0x1F;
            second = (second << 1 | above.at(x + 3)) & 0x7F;
            const unsigned bit = row.at(x);
            encoder.encode(contexts_[first << 11 | second << 4 | third], bit != 0);
            third = (third << 1 | bit) & 0xF;
        }
    }
}

void RefinementContexts::encode(ArithmeticEncoder& encoder, const cv::Mat& mask, const cv::Mat& reference,
                                cv::Point offset) {
    Row above(mask.cols), row(mask.cols);
    Row reference_above(mask.cols), reference_row(mask.cols), reference_below(mask.cols);
    reference_row.take(reference, -1 - offset.y, offset.x);
    reference_below.take(reference, -offset.y, offset.x);
    for (int y = 0; y < mask.rows; ++y) {
        std::swap(above, row);
        row.take(mask, y);
        std::swap(reference_above, reference_row);
        std::swap(reference_row, reference_below);
        reference_below.take(reference, y + 1 - offset.y, offset.x);
        // Figure 12, with the adaptive pixels at their nominal places.
        const auto three = [](const Row& each, int x) {
            return each.at(x - 1) << 2 | each.at(x) << 1 | each.at(x + 1);
        };
        for (int x = 0; x < mask.cols; ++x) {
            const unsigned context = three(reference_above, x) << 10 | three(reference_row, x) << 7 |
                                     three(reference_below, x) << 4 | three(above, x) << 1 | row.at(x - 1);
            encoder.encode(contexts_[context], row.at(x) != 0);
        }
    }
}

}
