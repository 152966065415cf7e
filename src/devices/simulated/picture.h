// What lies under the simulated sensor: papers on a background, drawn band by band at any resolution.
#pragma once

#include "devices/simulated/simulated_scanner.h"

namespace yelvin {

// What happened to a side of a sheet: see StackSheet.
struct Wear {
    int dust = 0, fibres = 0, creases = 0;
    unsigned seed = 5;
    bool back = false; // has its own dust and fibres, and the creases of the front, mirrored
};

// A sheet or paper in place, and what its other side lets through.
struct PlacedPaper {
    std::optional<PaperOriginal> original; // nothing: bare paper of `size`
    SizeMm size;
    double x_mm = 0, y_mm = 0, angle_degrees = 0; // centre, clockwise
    cv::Mat shine_through;                        // BGRA of the whole paper, to be multiplied in; may be empty
    double edge_shadow = 0;
    Wear wear;
};

struct Scene {
    std::vector<PlacedPaper> papers;
    int background = 232; // grey level
    RectMm area;          // what the sensor sees of it
};

// The light from `rows` rows starting at `first_row` of the scene's area at `dpi`; CV_8UC3 BGR.
cv::Mat drawn(const Scene& scene, double dpi, int width_px, int first_row, int rows);

// How the other side of a sheet shines through: mirrored, blurred by the paper's fibres, and pale.
cv::Mat shine_through(const PaperOriginal& other_side, SizeMm size, double strength, double blur_mm);

}
