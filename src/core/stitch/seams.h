// Whose dots the picture takes where pieces overlap.
#pragma once

#include "core/stitch/tones.h"

namespace yelvin {

// The picture in cells, each with the number of the piece it is taken from.
struct SeamMap {
    static constexpr uchar nobody = 255;
    cv::Mat owner; // CV_8U
    double cell_mm = 0.6;
};

// Seams run where both pieces show the same and hardly anything is there: a minimal cut (Y. Boykov, V. Kolmogorov, IEEE
// Trans. PAMI 26(9), 2004), piece by piece.
SeamMap choose_seams(const std::vector<PieceLookPtr>& looks, const Layout& layout, const std::vector<Tones>& tones);

// The places along the seam between two pieces, in order, about every `step_mm`; mm of the picture. Empty where the two
// do not touch.
std::vector<cv::Point2d> along_seam(const SeamMap& map, size_t a, size_t b, double step_mm);

}
