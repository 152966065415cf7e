#include "devices/simulated/sensor.h"

#include "core/raster/units.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace yelvin {

namespace {

// Moves the channel up by `rows`, with linear interpolation between rows.
void shift_up(cv::Mat& channel, double rows) {
    const int whole = static_cast<int>(std::floor(rows)), reach = std::abs(whole) + 1;
    const double part = rows - whole;
    cv::Mat1f kernel(2 * reach + 1, 1, 0.0F);
    kernel(reach + whole, 0) = static_cast<float>(1 - part);
    kernel(reach + whole + 1, 0) = static_cast<float>(part);
    cv::filter2D(channel, channel, -1, kernel, {-1, -1}, 0, cv::BORDER_REPLICATE);
}

}

int reach_px(const Sensor& sensor, double dpi) {
    return static_cast<int>(std::ceil(3 * mm_to_px(sensor.blur_mm, dpi)) +
                            std::ceil(mm_to_px(std::abs(sensor.apart_mm), dpi)));
}

cv::Mat sensed(const cv::Mat& light, const Sensor& sensor, double dpi, int reach, int first_row, double x_mm,
               double glass_width_mm) {
    cv::Mat blurred = light;
    if (const double sigma = mm_to_px(sensor.blur_mm, dpi); sigma > 0.2)
        cv::GaussianBlur(light, blurred, {0, 0}, sigma);
    if (const double rows = mm_to_px(sensor.apart_mm, dpi); rows != 0 && light.channels() == 3) {
        std::vector<cv::Mat> channels;
        cv::split(blurred, channels);
        shift_up(channels[0], -rows);
        shift_up(channels[2], rows);
        cv::merge(channels, blurred);
    }
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
        // The generator is seeded with the row number, so that the picture does not depend on the height of the strips.
        cv::RNG random(sensor.seed * 1000003 + static_cast<std::uint64_t>(first_row + y) * 2654435761U + 1);
        random.fill(noise, cv::RNG::NORMAL, cv::Scalar::all(0), cv::Scalar::all(sensor.grain));
        row += noise;
    }
    cv::Mat out;
    strip.convertTo(out, CV_8U);
    return out;
}

}
