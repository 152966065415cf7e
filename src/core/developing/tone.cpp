#include "core/developing/tone.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

bool changes_tone(const Adjust& a) {
    return changes_any(a, [](const AdjustField& field) { return field.stage == AdjustStage::Tone; });
}

std::array<LevelTable, 3> tone_tables(const Adjust& a, const PageMeasure& measure) {
    std::array<LevelTable, 3> tables;
    const int whitest = *std::ranges::max_element(measure.lights);
    const auto toned = [&](double level, size_t channel) {
        double v = level;
        const double dark = measure.darks[channel],
                     light = std::max(measure.lights[channel], measure.darks[channel] + 8);
        const double spread = a.fading / 100;
        const double from = dark * spread, to = 255 + (light - 255) * spread;
        v = (v - from) * 255 / (to - from);
        // After correcting fading, white is neutral already.
        const double white = (light - from) * 255 / (to - from), wanted = (whitest - from) * 255 / (to - from);
        v *= 1 + (std::min(255.0, wanted) / std::max(1.0, white) - 1) * a.cast / 100;
        v = (v - a.black_point) * 255 / (a.white_point - a.black_point);
        v += a.brightness * 1.27;
        const double slope = a.contrast < 0 ? 1 + a.contrast / 100 : 1 / std::max(0.04, 1 - a.contrast / 100);
        v = 127.5 + (v - 127.5) * slope;
        v = 255 * std::pow(std::clamp(v / 255, 0.0, 1.0), 1 / a.gamma);
        return v;
    };
    for (size_t channel = 0; channel < 3; ++channel) {
        // The levels of the paper begin slightly below its brightness. All of them become white; darker levels are
        // stretched.
        const double paper = toned(measure.paper[channel], channel), white_from = paper - a.paper_white * 0.45;
        for (int level = 0; level < 256; ++level) {
            double v = toned(level, channel);
            if (a.paper_white > 0) {
                const double bend = std::max(1.0, white_from * 0.55); // darker than this stays as it is
                if (v >= white_from)
                    v = 255;
                else if (v > bend)
                    v = bend + (v - bend) * (255 - bend) / (white_from - bend);
            }
            tables[channel][static_cast<size_t>(level)] = cv::saturate_cast<uchar>(v);
        }
    }
    return tables;
}

void apply_tables(cv::Mat& pixels, const std::array<LevelTable, 3>& tables) {
    cv::Mat table(1, 256, pixels.type());
    for (int level = 0; level < 256; ++level) {
        for (int c = 0; c < pixels.channels(); ++c)
            table.ptr()[level * pixels.channels() + c] = tables[static_cast<size_t>(c)][static_cast<size_t>(level)];
    }
    cv::LUT(pixels, table, pixels);
}

cv::Mat locally_black(const cv::Mat& grey, int half_window) {
    const int side = 2 * std::max(1, half_window) + 1;
    cv::Mat values, mean, squares;
    grey.convertTo(values, CV_32F);
    cv::boxFilter(values, mean, CV_32F, {side, side}, {-1, -1}, true, cv::BORDER_REPLICATE);
    cv::sqrBoxFilter(values, squares, CV_32F, {side, side}, {-1, -1}, true, cv::BORDER_REPLICATE);
    cv::Mat black(grey.size(), CV_8UC1);
    for (int y = 0; y < grey.rows; ++y) {
        const uchar* row = grey.ptr(y);
        const float *m = mean.ptr<float>(y), *q = squares.ptr<float>(y);
        uchar* out = black.ptr(y);
        for (int x = 0; x < grey.cols; ++x) {
            const double deviation =
                std::sqrt(std::max(0.0, static_cast<double>(q[x]) - static_cast<double>(m[x]) * m[x]));
            out[x] = row[x] < m[x] * (1 + sauvola_k * (deviation / 128 - 1)) ? 0 : 255;
        }
    }
    return black;
}

}
