// The tones of a page: one table of levels for each channel, and the thresholds that make it black and white.
#pragma once

#include "core/developing/measure.h"

namespace yelvin {

using LevelTable = std::array<uchar, 256>;

// Fading, cast, black and white point, brightness, contrast, gamma, paper to white, in this order.
std::array<LevelTable, 3> tone_tables(const Adjust& adjust, const PageMeasure& measure);
bool changes_tone(const Adjust& adjust);
void apply_tables(cv::Mat& pixels, const std::array<LevelTable, 3>& tables);

// A threshold for each place from the mean m and deviation s around it: m (1 + k (s / 128 - 1)), k = 0.34 (J. Sauvola
// and M. Pietikäinen, Pattern Recognition 33, 2000, pp. 225-236). `half_window` in dots.
cv::Mat locally_black(const cv::Mat& grey, int half_window);
inline constexpr double sauvola_k = 0.34;
inline constexpr double local_window_mm = 2.5; // half

}
