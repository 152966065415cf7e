// What the corrections of a page need to know of all of it, wherever they are applied: measured once on a coarse copy
// of the page as it lies, so that a part of it on screen and the whole of it in the file come out the same.
#pragma once

#include "core/developing/recipe.h"

#include <array>
#include <vector>

namespace yelvin {

// A punch hole, and the levels around it that it is filled with: `around` in equal steps clockwise from the right, each
// channel; of a grey page all are alike.
struct PunchHole {
    Spot spot; // mm of the page
    std::array<cv::Vec3b, 24> around{};
};

// Each correction is measured on what those before it leave, in the order of develop(): even light, edge shadows, punch
// holes, the dropped colour, tones.
struct PageMeasure {
    std::array<int, 3> lit_paper{255, 255, 255}; // per channel: the paper under even light, for what comes before tones
    std::array<int, 3> paper{255, 255, 255};     // per channel, before tones: the paper, or in a photograph its lights
    std::array<int, 3> lights{255, 255, 255};    // the level that one percent is above …
    std::array<int, 3> darks{0, 0, 0};           // … and that half a percent is below
    cv::Mat light;                               // the paper's brightness all over the page, coarse; for even_light
    // For each side (left, top, right, bottom) how bright the paper is, against the paper elsewhere (0 to 1), from the
    // edge inwards in steps of `shadow_step_mm`; empty where no shadow falls.
    std::array<std::vector<double>, 4> shadow;
    std::vector<PunchHole> holes;
    int threshold = 128; // of the page after its tones; for black
};
inline constexpr double shadow_step_mm = 0.25;

// `page` is the page as it lies, its tones untouched; it is not written to. Only what `adjust` asks for is looked for;
// `threshold` is not. The members before tones depend on even_light, edge_shadow, punch_holes and the dropped colour.
PageMeasure measure_page(const Raster& page, const Adjust& adjust);

// For observing: on any copy of 50 to 200 dpi. A shadow darkens all channels alike and becomes lighter bit by bit; what
// has a colour of its own, or ends in an edge, is printed and none.
std::array<std::vector<double>, 4> edge_shadows(const Raster& page);
double shadow_depth_mm(const std::vector<double>& side);
std::vector<Spot> punch_holes(const Raster& page);

}
