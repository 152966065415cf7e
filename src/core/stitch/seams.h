// Choosing the seams: from which piece the picture takes its pixels. Pure functions.
#pragma once

#include "core/stitch/tones.h"

namespace yelvin {

// The picture in cells, each with the index of the piece from which it is taken.
struct SeamMap {
    static constexpr uchar nobody = 255;
    cv::Mat owner; // CV_8U
    double cell_mm = 0.6;
};

// Puts seams where both pieces agree and there is little detail, by minimal cuts (Y. Boykov, V. Kolmogorov, IEEE Trans.
// PAMI 26(9), 2004), piece by piece.
SeamMap choose_seams(const std::vector<PieceLookPtr>& looks, const Layout& layout, const std::vector<Tones>& tones);

// Returns places along the seam between two pieces, in order, about `step_mm` apart, in mm of the picture. Empty if the
// pieces do not touch.
std::vector<cv::Point2d> along_seam(const SeamMap& map, size_t a, size_t b, double step_mm);

}
