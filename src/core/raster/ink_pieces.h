// Pieces of ink that hang together, found row by row: an array with a label for each dot, as OpenCV fills one, takes
// four times the page's own memory.
#pragma once

#include <opencv2/core.hpp>

#include <functional>
#include <vector>

namespace yelvin {

struct InkPiece {
    cv::Rect box;
    int area = 0; // dots
};

class InkPieces {
  public:
    struct Run { // dots of a row, the last beyond
        int y, from, to;
        size_t piece; // its number
    };
    // A row of `size`'s width, not 0 where ink is, for each y from above; it need not stay beyond the next call.
    using Row = std::function<const uchar*(int y)>;
    InkPieces(cv::Size size, const Row& row);
    // Ink is what is darker than `under`; `grey` has 8 bits.
    static InkPieces darker_than(double under, const cv::Mat& grey);
    static InkPieces of(const cv::Mat& mask); // 8 bits, not 0 where ink is

    // Those that touch, corners too, are one; in the order of their first runs.
    const std::vector<InkPiece>& pieces() const { return pieces_; }
    const std::vector<Run>& runs() const { return runs_; } // row by row, from left to right
    // Sets all dots of those that are meant; `onto` has the size that was looked at.
    void set(cv::Mat& onto, uchar level, const std::function<bool(const InkPiece&)>& meant) const;

  private:
    std::vector<Run> runs_;
    std::vector<InkPiece> pieces_;
    void join_up(std::vector<size_t>& belongs);
};

}
