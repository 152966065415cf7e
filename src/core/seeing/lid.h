// The lid behind what lies on the glass: its colour everywhere, as a smooth surface, since lamps are not even. Seen at
// the picture's rim, where it is not covered.
#pragma once

#include "core/raster/raster.h"

#include <array>
#include <vector>

namespace yelvin {

struct Lid {
    // Per channel: c0 + c1 x + c2 x² + c3 y + c4 y², x and y from -1 to 1 across the picture.
    std::array<std::array<double, 5>, 3> surface{};
    double grain = 1; // standard deviation of a single dot around it, in grey levels
    double share = 0; // of the rim that it was seen on, 0 to 1
};

// What may be the lid, the likeliest first, at most three: colours that take up at least a twentieth of the rim.
std::vector<Lid> lids_at_rim(const Raster& raster);

// How far each dot is from the lid: the largest difference of its channels; CV_32FC1, not negative.
cv::Mat off_lid(const Raster& raster, const Lid& lid);
// The same for a part of the picture only, each dot smoothed with its neighbours first.
cv::Mat smooth_off_lid(const Raster& raster, const Lid& lid, const cv::Rect& part);

}
