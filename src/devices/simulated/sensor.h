// A model of a sensor: slight blur, grain, and lamps that are brighter in the middle. Pure functions.
#pragma once

#include <opencv2/core.hpp>

#include <cstdint>

namespace yelvin {

struct Sensor {
    double white = 0.965;      // level of white paper, relative to full scale
    double blur_mm = 0.03;     // standard deviation of the optics' blur
    double grain = 1.5;        // standard deviation of the noise, in grey levels
    double fall_off = 0.02;    // light that is lost at the left and right edges of the glass
    double apart_mm = 0;       // distance of the lines for red and blue before and behind the line for green
    std::uint64_t seed = 2026; // scanning twice with the same seed gives equal pixels
    bool operator==(const Sensor&) const = default;
};

inline constexpr Sensor ideal_sensor{1.0, 0, 0, 0, 0, 0};

// Returns how many rows above and below a strip the sensor needs.
int reach_px(const Sensor& sensor, double dpi);

// Applies the model to `light`, a strip with `reach` more rows above and below, and returns the strip alone.
// `first_row` counts from the page's top; `x_mm` is the strip's left edge on a glass of `glass_width_mm`.
cv::Mat sensed(const cv::Mat& light, const Sensor& sensor, double dpi, int reach, int first_row, double x_mm,
               double glass_width_mm);

}
