// Connected components of ink, found from runs of pixels row by row. (Labels for each pixel, as OpenCV computes them,
// take four times the page's memory.)
#pragma once

#include <opencv2/core.hpp>

#include <functional>
#include <vector>

namespace yelvin {

struct InkPiece {
    cv::Rect box;
    int area = 0; // pixels
};

// The components of one picture. Immutable after construction, so several threads may read one object.
class InkPieces {
  public:
    struct Run { // pixels of row y from `from` up to, but not including, `to`
        int y, from, to;
        size_t piece; // index in pieces()
    };
    // Returns row y, of the width of `size`; not 0 means ink. Called once for each y from the top; the pointer must be
    // valid until the next call.
    using Row = std::function<const uchar*(int y)>;
    InkPieces(cv::Size size, const Row& row);
    // Ink is what is darker than `under`; `grey` is CV_8UC1.
    static InkPieces darker_than(double under, const cv::Mat& grey);
    static InkPieces of(const cv::Mat& mask); // CV_8UC1, not 0 means ink

    // The components (8-connected), in the order of their first runs.
    const std::vector<InkPiece>& pieces() const { return pieces_; }
    const std::vector<Run>& runs() const { return runs_; } // row by row, from left to right
    // Sets the pixels of the components for which `meant` returns true to `level`; `onto` is CV_8UC1 of the same size.
    void set(cv::Mat& onto, uchar level, const std::function<bool(const InkPiece&)>& meant) const;

  private:
    std::vector<Run> runs_;
    std::vector<InkPiece> pieces_;
    void join_up(std::vector<size_t>& belongs);
};

}
