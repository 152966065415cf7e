// Decoding SANE frames into rows of pixels: grey and RGB frames, three passes in any order, 1, 8 and 16 bit, lines with
// any padding, an unknown number of lines (SANE Standard 1.06, 3.2.1). Used by one thread.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"

#include <cstdint>
#include <span>
#include <vector>

namespace yelvin::sane {

enum class Frame { Grey, Rgb, Red, Green, Blue };

struct FrameParameters {
    Frame format = Frame::Grey;
    bool last_frame = true;
    int bytes_per_line = 0, pixels_per_line = 0;
    int lines = 0; // -1: unknown
    int depth = 8; // 1, 8 or 16
};

class FrameDecoder {
  public:
    // Begins a frame of the page: the first, or another of three passes, which must have the same width and depth.
    // Errors: Device for a frame that is not supported.
    Result<void> begin(const FrameParameters& parameters);
    // Returns the rows that are complete with these bytes, CV_8UC3 BGR or CV_8UC1; may be empty. The first two of three
    // passes return none.
    cv::Mat feed(std::span<const std::uint8_t> bytes);
    Ink ink() const; // of the page
    int lines() const { return parameters_.lines; }
    int width_px() const { return parameters_.pixels_per_line; }

  private:
    FrameParameters parameters_;
    bool three_pass_ = false, begun_ = false;
    std::vector<std::uint8_t> partial_; // an incomplete line
    cv::Mat planes_[3];                 // blue, green, red of the passes before; CV_8UC1
    int row_ = 0;                       // number of rows of the last pass so far

    cv::Mat decoded(const std::uint8_t* lines, int count) const; // in the frame's colours
};

}
