// What the corrections need to know about a whole page. It is measured once, on a coarse copy of the page after its
// geometry, so that a part on the screen and the whole page in the file come out the same. Pure functions.
#pragma once

#include "core/developing/adjust.h"
#include "core/raster/raster.h"

#include <array>
#include <vector>

namespace yelvin {

// A punch hole and the levels around it, with which it is filled: in equal steps clockwise from the right, for each
// channel; on a grey page all channels are equal.
struct PunchHole {
    Spot spot; // mm of the page
    std::array<cv::Vec3b, 24> around{};
};

// Each correction is measured on the result of those before it, in the order of develop(): even light, edge shadows,
// punch holes, dropped colour, tones.
struct PageMeasure {
    std::array<int, 3> lit_paper{255, 255,
                                 255};        // per channel: the paper after even light, for corrections before tones
    std::array<int, 3> paper{255, 255, 255};  // per channel, before tones: the paper, or the highlights of a photograph
    std::array<int, 3> lights{255, 255, 255}; // per channel: one percent of the page is lighter
    std::array<int, 3> darks{0, 0, 0};        // per channel: half a percent of the page is darker
    cv::Mat light;                            // coarse map of the paper's brightness, for even_light
    // For each side (left, top, right, bottom): brightness of the paper relative to the rest of the page, 0 to 1, from
    // the edge inwards in steps of shadow_step_mm; empty if there is no shadow.
    std::array<std::vector<double>, 4> shadow;
    std::vector<PunchHole> holes;
    int threshold = 128; // after tones; for black and white
};
inline constexpr double shadow_step_mm = 0.25;

// Measures `page`, the page after its geometry and before its tones; it is not written to. Only what `adjust` needs is
// measured, and never the threshold. The members before tones depend on even_light, edge_shadow, punch_holes and the
// dropped colour.
PageMeasure measure_page(const Raster& page, const Adjust& adjust);

// For Notices, on a copy of 50 to 200 dpi. A shadow darkens all channels alike and fades gradually; what has a colour
// or ends in an edge is printed and not a shadow.
std::array<std::vector<double>, 4> edge_shadows(const Raster& page);
double shadow_depth_mm(const std::vector<double>& side);
std::vector<Spot> punch_holes(const Raster& page);

}
