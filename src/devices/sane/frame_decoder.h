// From the bytes of SANE frames to rows of pixels: grey and RGB frames, three passes in any order, 1, 8 and 16 bit,
// lines padded to any length, an unknown number of lines (SANE Standard 1.06, 3.2.1).
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
    // A page's next frame begins; the first, or one more of three passes, which must have the same width and depth.
    Result<void> begin(const FrameParameters& parameters);
    // Rows that are complete with these bytes; empty until there are any. Passes before the last give none.
    cv::Mat feed(std::span<const std::uint8_t> bytes);
    bool three_pass() const { return three_pass_; }
    Ink ink() const; // of the page
    int lines() const { return parameters_.lines; }
    int width_px() const { return parameters_.pixels_per_line; }

  private:
    FrameParameters parameters_;
    bool three_pass_ = false, begun_ = false;
    std::vector<std::uint8_t> partial_; // a line that is not whole yet
    cv::Mat planes_[3];                 // blue, green, red of the passes before; CV_8UC1
    int row_ = 0;                       // in the last pass

    cv::Mat decoded(const std::uint8_t* lines, int count) const; // as the frame has it
};

}
