// The colour of the lid behind the items on the glass: a smooth surface, because lamps are not even. It is estimated at
// the edge of the picture, where it is not covered. Pure functions.
#pragma once

#include "core/raster/raster.h"

#include <array>
#include <vector>

namespace yelvin {

struct Lid {
    // Per channel: c0 + c1 x + c2 x² + c3 y + c4 y², x and y from -1 to 1 across the picture.
    std::array<std::array<double, 5>, 3> surface{};
    double grain = 1; // standard deviation of single pixels, in grey levels
    double share = 0; // share of the edge on which the lid was seen, 0 to 1
};

// Returns up to three candidates, the likeliest first: colours that cover at least a twentieth of the edge.
std::vector<Lid> lids_at_rim(const Raster& raster);

// Returns how far each pixel is from the lid's colour: the largest difference of the channels, CV_32FC1, not negative.
cv::Mat off_lid(const Raster& raster, const Lid& lid);
// Returns the same for a part of the picture, smoothed over neighbouring pixels first.
cv::Mat smooth_off_lid(const Raster& raster, const Lid& lid, const cv::Rect& part);

}
