// Geometry of dragging frames, in mm of the glass. Pure functions.
#pragma once

#include "core/seeing/frame.h"

#include <optional>
#include <vector>

namespace yelvin {

// The part of a frame under the mouse. For corners and edges, `side_x` and `side_y` say which, in the frame's
// directions: -1 left or top, 1 right or bottom.
struct Grip {
    enum class Part { None, Corner, Edge, Inside, Bar };
    int frame = -1;
    Part part = Part::None;
    int side_x = 0, side_y = 0;
};

inline constexpr double bar_distance_px = 10;

// Finds the part under the mouse. `mm_per_px` is the scale of the screen; targets have the same size on the screen at
// any scale. The last frame is on top.
Grip grip_at(const std::vector<Frame>& frames, cv::Point2d mm, double mm_per_px);

struct Dragged {
    Region at;
    std::vector<double> guides_x, guides_y; // lines to which it snapped
};

// The lines to snap to, and the distance; 0: no snapping.
struct Snapping {
    Guides guides;
    std::vector<Region> found;
    SizeMm glass;
    double reach_mm = 1.5;
};

Dragged drawn(cv::Point2d from, cv::Point2d to, const Snapping& snapping);
Dragged dragged(const Region& start, const Grip& grip, cv::Point2d from, cv::Point2d to, const Snapping& snapping);

// Returns the ends of the bar outside the top edge.
std::pair<cv::Point2d, cv::Point2d> bar_of(const Region& region, double mm_per_px);

}
