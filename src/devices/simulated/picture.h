// The scene under the simulated sensor: papers on a background, drawn band by band at any resolution. Values and pure
// functions.
#pragma once

#include "core/raster/units.h"
#include "devices/simulated/originals.h"

#include <opencv2/core.hpp>

#include <optional>

namespace yelvin {

// The wear of a side of a sheet, see StackSheet.
struct Wear {
    int dust = 0, fibres = 0, creases = 0;
    unsigned seed = 5;
    bool back = false; // whether it is the back: with dust and fibres of its own, and the front's creases mirrored
};

// A paper in its place, and the print of its other side that shines through.
struct PlacedPaper {
    std::optional<PaperOriginal> original; // nullopt: bare paper of `size`
    SizeMm size;
    double x_mm = 0, y_mm = 0, angle_degrees = 0; // centre, clockwise
    cv::Mat shine_through;                        // BGRA of the whole paper, multiplied with it; may be empty
    double edge_shadow = 0;
    Wear wear;
};

struct Scene {
    std::vector<PlacedPaper> papers;
    int background = 232; // grey level
    RectMm area;          // the part that the sensor sees
};

// Returns `rows` rows of the scene from `first_row` on, at `dpi`; CV_8UC3 BGR.
cv::Mat drawn(const Scene& scene, double dpi, int width_px, int first_row, int rows);

// Returns how the other side of a sheet shines through: mirrored, blurred by the paper's fibres, and pale.
cv::Mat shine_through(const PaperOriginal& other_side, SizeMm size, double strength, double blur_mm);

}
