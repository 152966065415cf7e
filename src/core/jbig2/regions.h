// The two procedures of JBIG2 that encode pixels (ITU-T T.88, 6.2 and 6.3): from the pixels around each one, and from
// another picture that resembles it.
//
// Masks are CV_8UC1 and not empty; not 0 means ink. Functions may be called on any thread.
#pragma once

#include "core/jbig2/arithmetic_encoder.h"

#include <opencv2/core.hpp>

namespace yelvin {

// The contexts of template 0 (6.2.5.3), adapted from mask to mask.
class GenericContexts {
  public:
    // Encodes the mask's pixels. With `typical`, a row that equals the one above takes a single bit (6.2.5.7); a region
    // must say so in its flags.
    void encode(ArithmeticEncoder& encoder, const cv::Mat& mask, bool typical);

  private:
    std::vector<BitContext> contexts_ = std::vector<BitContext>(1 << 16);
};

// The contexts of refinement template 0 (6.3.5.3), adapted from mask to mask.
class RefinementContexts {
  public:
    // Encodes the mask's pixels by `reference`, whose pixel (0, 0) lies on the mask's pixel `offset`.
    void encode(ArithmeticEncoder& encoder, const cv::Mat& mask, const cv::Mat& reference, cv::Point offset);

  private:
    std::vector<BitContext> contexts_ = std::vector<BitContext>(1 << 13);
};

}
