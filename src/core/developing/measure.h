// What the corrections of a page need to know of all of it, wherever they are applied: measured once on a coarse copy
// of the page as it lies, so that a part of it on screen and the whole of it in the file come out the same.
#pragma once

#include "core/developing/recipe.h"

#include <array>
#include <vector>

namespace yelvin {

struct PageMeasure {
    std::array<int, 3> paper{255, 255, 255};  // per channel: the paper, or in a photograph its lights
    std::array<int, 3> lights{255, 255, 255}; // the level that one percent is above …
    std::array<int, 3> darks{0, 0, 0};        // … and that half a percent is below
    cv::Mat light;                            // the paper's brightness all over the page, coarse; for even_light
    // For each side (left, top, right, bottom) how bright the paper is, against the paper elsewhere (0 to 1), from the
    // edge inwards in steps of `shadow_step_mm`; empty where no shadow falls.
    std::array<std::vector<double>, 4> shadow;
    std::vector<Spot> holes; // mm of the page
    int threshold = 128;     // of the page after its tones; for black
};
inline constexpr double shadow_step_mm = 0.25;

// `page` is the page as it lies, its tones untouched. Only what `recipe` asks for is looked for; `threshold` is not.
PageMeasure measure_page(const Raster& page, const Adjust& adjust);

// For observing: on any copy of 50 to 200 dpi.
std::array<std::vector<double>, 4> edge_shadows(const Raster& page);
double shadow_depth_mm(const std::vector<double>& side);
std::vector<Spot> punch_holes(const Raster& page);

}
