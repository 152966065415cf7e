#include "devices/simulated/sensor.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace yelvin {

int blur_reach_px(const Sensor& sensor, double dpi) {
    return static_cast<int>(std::ceil(3 * mm_to_px(sensor.blur_mm, dpi)));
}

cv::Mat sensed(const cv::Mat& light, const Sensor& sensor, double dpi, int reach, int first_row, double x_mm,
               double glass_width_mm) {
    cv::Mat blurred = light;
    if (const double sigma = mm_to_px(sensor.blur_mm, dpi); sigma > 0.2)
        cv::GaussianBlur(light, blurred, {0, 0}, sigma);
    cv::Mat strip;
    blurred.rowRange(reach, blurred.rows - reach).convertTo(strip, CV_32F);
    const int channels = strip.channels();
    cv::Mat gain(1, strip.cols, CV_32FC(channels));
    for (int x = 0; x < strip.cols; ++x) {
        const double across = 2 * (x_mm + px_to_mm(x, dpi)) / glass_width_mm - 1;
        for (int c = 0; c < channels; ++c)
            gain.ptr<float>(0)[x * channels + c] =
                static_cast<float>(sensor.white * (1 - sensor.fall_off * across * across));
    }
    cv::Mat noise(1, strip.cols, strip.type());
    for (int y = 0; y < strip.rows; ++y) {
        cv::Mat row = strip.row(y);
        cv::multiply(row, gain, row);
        if (sensor.grain <= 0) continue;
        // Seeded by the row, so that strips of any height give the same picture.
        cv::RNG random(sensor.seed * 1000003 + static_cast<std::uint64_t>(first_row + y) * 2654435761U + 1);
        random.fill(noise, cv::RNG::NORMAL, cv::Scalar::all(0), cv::Scalar::all(sensor.grain));
        row += noise;
    }
    cv::Mat out;
    strip.convertTo(out, CV_8U);
    return out;
}

}
