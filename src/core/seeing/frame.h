// Frames: the areas of the glass that become pages, each a turned rectangle whose top is the page's top.
#pragma once

#include "core/developing/recipe.h"
#include "core/seeing/regions.h"

#include <optional>
#include <vector>

namespace yelvin {

inline constexpr double least_frame_mm = 2;

struct Frame {
    Region at;                      // angle: clockwise, -180 to 180; `w_mm` is along the page's top
    bool found = false;             // by itself, not drawn: its edges are looked for anew in the finer scan
    std::optional<bool> photograph; // by the preview; nothing: not looked at
    bool operator==(const Frame&) const = default;

    SizeMm size() const { return {at.w_mm, at.h_mm}; }
    static Frame upright(const RectMm& area) {
        return {{area.x + area.width / 2, area.y + area.height / 2, area.width, area.height, 0}};
    }
};

// Upper left, upper right, lower right, lower left, as seen with the frame's top up; mm.
std::vector<cv::Point2d> corners_of(const Region& region);
Region turned_by(Region region, double degrees); // about its centre, clockwise; the angle kept in -180 to 180
// No side under `least_frame_mm`, the centre on the glass, and an upright one wholly on it.
Region kept_on(Region region, SizeMm glass);

// What the page of a frame is of a picture in which it lies so.
Recipe frame_recipe(const Region& on_picture, SizeMm picture);

// One scan of a part of the glass, and the frames that are cut out of it.
struct GlassPass {
    RectMm area;
    std::vector<size_t> frames;
};
// The quickest way to scan them all: frames that lie beside each other go together, those far apart each on its own.
// Found frames get a margin in which their edges can be looked for.
std::vector<GlassPass> quickest_passes(const std::vector<Frame>& frames, SizeMm glass, double seconds_per_mm,
                                       double seconds_per_pass);
double seconds_for(const std::vector<GlassPass>& passes, double seconds_per_mm, double seconds_per_pass);

// Where edges of a frame that is being changed come to lie: on the glass's own edges, and on those of what was found.
struct Guides {
    std::vector<double> x_mm, y_mm; // upright lines
};
Guides guides_for(SizeMm glass, const std::vector<Region>& found);
// The nearest of `lines` within `reach_mm`.
std::optional<double> snapped_to(double at_mm, const std::vector<double>& lines, double reach_mm);

}
