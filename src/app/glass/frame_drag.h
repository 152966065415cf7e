// What dragging does to a frame: pure geometry in mm of the glass, no widget.
#pragma once

#include "core/seeing/frame.h"

#include <optional>
#include <vector>

namespace yelvin {

// What of a frame is under the mouse. For corners and edges, `side_x` and `side_y` say which, in the frame's own
// directions: -1 left or top, 1 right or bottom.
struct Grip {
    enum class Part { None, Corner, Edge, Inside, Bar };
    int frame = -1;
    Part part = Part::None;
    int side_x = 0, side_y = 0;
};

inline constexpr double bar_distance_px = 10;

// `mm_per_px`: how much glass a dot of the screen shows; targets are as large on screen whatever that is. The last
// frame lies uppermost.
Grip grip_at(const std::vector<Frame>& frames, cv::Point2d mm, double mm_per_px);

struct Dragged {
    Region at;
    std::vector<double> guides_x, guides_y; // lines it has snapped to
};

// What there is to snap to, and how near; a reach of 0 snaps to nothing.
struct Snapping {
    Guides guides;
    std::vector<Region> found;
    SizeMm glass;
    double reach_mm = 1.5;
};

Dragged drawn(cv::Point2d from, cv::Point2d to, const Snapping& snapping);
Dragged dragged(const Region& start, const Grip& grip, cv::Point2d from, cv::Point2d to, const Snapping& snapping);

// The ends of the bar outside the top edge.
std::pair<cv::Point2d, cv::Point2d> bar_of(const Region& region, double mm_per_px);

}
