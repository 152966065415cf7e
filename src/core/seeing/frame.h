// Frames: the areas of the glass that become pages. A frame is a turned rectangle whose top is the page's top. Values
// and pure functions.
#pragma once

#include "core/developing/recipe.h"
#include "core/seeing/regions.h"

#include <optional>
#include <vector>

namespace yelvin {

inline constexpr double least_frame_mm = 2;

struct Frame {
    Region at;                      // angle: clockwise, -180 to 180; `w_mm` is along the page's top
    bool found = false;             // found automatically: its edges are found again in the finer scan
    std::optional<bool> photograph; // whether the preview shows a photograph; nullopt: not known
    bool operator==(const Frame&) const = default;

    SizeMm size() const { return {at.w_mm, at.h_mm}; }
    static Frame upright(const RectMm& area) {
        return {{area.x + area.width / 2, area.y + area.height / 2, area.width, area.height, 0}};
    }
};

// Returns the upper left, upper right, lower right and lower left corner, as seen with the frame's top up; mm.
std::vector<cv::Point2d> corners_of(const Region& region);
Region turned_by(Region region, double degrees); // about its centre, clockwise; the angle kept in -180 to 180
// Limits a region: no side shorter than least_frame_mm, the centre on the glass, and an upright region entirely on it.
Region kept_on(Region region, SizeMm glass);

// Returns the recipe that makes the frame's page out of a picture of this size.
Recipe frame_recipe(const Region& on_picture, SizeMm picture);

// One pass over a part of the glass, and the indices of the frames that are cropped from it.
struct GlassPass {
    RectMm area;
    std::vector<size_t> frames;
};
// Returns the fastest passes for all frames: frames beside each other share a pass, distant ones get their own. Found
// frames get a margin, in which their edges can be found again.
std::vector<GlassPass> quickest_passes(const std::vector<Frame>& frames, SizeMm glass, double seconds_per_mm,
                                       double seconds_per_pass);
// Returns the time that the passes take.
double seconds_for(const std::vector<GlassPass>& passes, double seconds_per_mm, double seconds_per_pass);

// The lines to which edges of a frame snap while it is changed: the edges of the glass and of found items.
struct Guides {
    std::vector<double> x_mm, y_mm; // vertical lines, horizontal lines
};
Guides guides_for(SizeMm glass, const std::vector<Region>& found);
// Returns the nearest of `lines` within `reach_mm`, or nullopt.
std::optional<double> snapped_to(double at_mm, const std::vector<double>& lines, double reach_mm);

}
