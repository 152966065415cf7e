// What a sensor makes of the light that reaches it: a little blur, grain, and lamps that are brighter in the middle.
#pragma once

#include "core/raster/raster.h"

#include <cstdint>

namespace yelvin {

struct Sensor {
    double white = 0.965;      // what white paper gives, of the full scale
    double blur_mm = 0.03;     // standard deviation of the optics' blur
    double grain = 1.5;        // standard deviation of the noise, in grey levels
    double fall_off = 0.02;    // light lost at the glass's left and right edges
    double apart_mm = 0;       // how far the lines for red and blue lie before and behind the line for green
    std::uint64_t seed = 2026; // the same scan twice is the same to the dot
    bool operator==(const Sensor&) const = default;
};

inline constexpr Sensor ideal_sensor{1.0, 0, 0, 0, 0, 0};

// How many rows above and below a strip the sensor looks at.
int reach_px(const Sensor& sensor, double dpi);

// `light` is a strip with `reach` more rows above and below; what comes back is the strip alone. `first_row` counts
// from the page's top, `x_mm` is the strip's left edge on a glass of `glass_width_mm`.
cv::Mat sensed(const cv::Mat& light, const Sensor& sensor, double dpi, int reach, int first_row, double x_mm,
               double glass_width_mm);

}
