// The tones of a page: one table of levels for each channel, and the adaptive threshold. Pure functions.
#pragma once

#include "core/developing/measure.h"

namespace yelvin {

using LevelTable = std::array<uchar, 256>;

// Returns the tables for blue, green and red: fading, cast, black and white point, brightness, contrast, gamma and
// paper to white, in this order.
std::array<LevelTable, 3> tone_tables(const Adjust& adjust, const PageMeasure& measure);
bool changes_tone(const Adjust& adjust); // whether the tables change anything
void apply_tables(cv::Mat& pixels, const std::array<LevelTable, 3>& tables);

// Makes grey pixels black and white by an adaptive threshold from the mean m and the standard deviation s around each
// pixel: m (1 + k (s / 128 - 1)), k = 0.34 (J. Sauvola and M. Pietikäinen, Pattern Recognition 33, 2000, pp. 225-236).
// `half_window` in pixels.
cv::Mat locally_black(const cv::Mat& grey, int half_window);
inline constexpr double sauvola_k = 0.34;
inline constexpr double local_window_mm = 2.5; // half

}
