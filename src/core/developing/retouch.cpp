#include "core/developing/retouch.h"

#include "core/raster/ink_pieces.h"
#include "core/raster/srgb.h"

#include <opencv2/imgproc.hpp>
#include <opencv2/photo.hpp>

#include <algorithm>

namespace yelvin {

namespace {

// Multiplies levels by a gain in linear light, using two tables.
class Gain {
  public:
    static constexpr int steps = 4096;
    Gain() {
        for (int i = 0; i < 256; ++i) light_[static_cast<size_t>(i)] = static_cast<float>(light_of(i / 255.0));
        for (int i = 0; i <= steps; ++i)
            stored_[static_cast<size_t>(i)] = cv::saturate_cast<uchar>(255 * stored_of(static_cast<double>(i) / steps));
    }
    uchar operator()(uchar level, float gain) const {
        // Rounds to the nearest entry. A call of lround() for each pixel would take longer than everything else.
        const float light = std::min(1.0F, light_[level] * gain) * steps;
        return stored_[static_cast<size_t>(light + 0.5F)]; // NOLINT(bugprone-incorrect-roundings)
    }

  private:
    std::array<float, 256> light_{};
    std::array<uchar, steps + 1> stored_{};
};
const Gain& in_light() {
    static const Gain gain;
    return gain;
}

}

void even_out_light(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay) {
    if (measure.light.empty() || measure.light.channels() != pixels.channels()) return;
    // The gain is computed per cell and then interpolated between the cells.
    cv::Mat gain(measure.light.size(), CV_32FC(pixels.channels()));
    std::array<double, 3> wanted{};
    std::vector<cv::Mat> planes;
    cv::split(measure.light, planes);
    for (size_t c = 0; c < planes.size(); ++c) {
        cv::Mat sorted = planes[c].reshape(1, 1).clone();
        cv::sort(sorted, sorted, cv::SORT_ASCENDING);
        wanted[c] = sorted.at<uchar>(static_cast<int>(0.95 * (sorted.cols - 1)));
    }
    for (int y = 0; y < gain.rows; ++y) {
        for (int x = 0; x < gain.cols * gain.channels(); ++x) {
            const double seen = light_of(std::max<int>(1, measure.light.ptr(y)[x]) / 255.0),
                         white = light_of(wanted[static_cast<size_t>(x % gain.channels())] / 255.0);
            gain.ptr<float>(y)[x] = static_cast<float>(std::clamp(white / seen, 1.0, 6.0));
        }
    }
    const double sx = static_cast<double>(gain.cols) / lay.page.width,
                 sy = static_cast<double>(gain.rows) / lay.page.height;
    const cv::Matx23d map(sx, 0, (lay.origin.x + 0.5) * sx - 0.5, 0, sy, (lay.origin.y + 0.5) * sy - 0.5);
    const Gain& lit = in_light();
    constexpr int band = 64; // Rows handled at once, so that no full-size gain picture is needed.
    for (int top = 0; top < pixels.rows; top += band) {
        cv::Mat rows = pixels.rowRange(top, std::min(pixels.rows, top + band)), gains;
        cv::Matx23d here = map;
        here(1, 2) += top * sy;
        cv::warpAffine(gain, gains, here, rows.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
        for (int y = 0; y < rows.rows; ++y) {
            uchar* row = rows.ptr(y);
            const float* by = gains.ptr<float>(y);
            for (int x = 0; x < rows.cols * rows.channels(); ++x) row[x] = lit(row[x], by[x]);
        }
    }
}

void lift_edge_shadows(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay) {
    const double step = mm_to_px(shadow_step_mm, lay.dpi);
    const Gain& lit = in_light();
    constexpr double hopeless = 0.3; // Below this light, writing cannot be told from the shadow.
    const auto seen_at = [&](const std::vector<double>& side, double depth_px) {
        const double at = std::max(0.0, depth_px / step);
        const auto i = static_cast<size_t>(at);
        if (side.empty() || i >= side.size()) return 1.0;
        const double next = i + 1 < side.size() ? side[i + 1] : 1.0, t = at - static_cast<double>(i);
        return std::min(1.0, side[i] * (1 - t) + next * t);
    };
    const auto darkest = [&](int x, int y) {
        const int px = x + lay.origin.x, py = y + lay.origin.y;
        return std::min({seen_at(measure.shadow[0], px), seen_at(measure.shadow[1], py),
                         seen_at(measure.shadow[2], lay.page.width - 1 - px),
                         seen_at(measure.shadow[3], lay.page.height - 1 - py)});
    };
    const auto depth = [&](size_t side) {
        return static_cast<int>(static_cast<double>(measure.shadow[side].size()) * step) + 1;
    };
    const std::array<int, 4> inner{depth(0) - lay.origin.x, depth(1) - lay.origin.y,
                                   lay.page.width - depth(2) - lay.origin.x, lay.page.height - depth(3) - lay.origin.y};
    const double paper = *std::ranges::max_element(measure.lit_paper) / 255.0;
    for (int y = 0; y < pixels.rows; ++y) {
        uchar* row = pixels.ptr(y);
        const bool across = y < inner[1] || y >= inner[3];
        for (int x = 0; x < pixels.cols; ++x) {
            if (!across && x >= inner[0] && x < inner[2]) { // No side's shadow reaches the middle of the row.
                x = inner[2] - 1;
                continue;
            }
            const double seen = darkest(x, y);
            if (seen >= 1) continue;
            uchar* pixel = row + x * pixels.channels();
            const auto gain = static_cast<float>(light_of(paper) / std::max(1e-4, light_of(paper * seen)));
            for (int c = 0; c < pixels.channels(); ++c)
                pixel[c] = seen < hopeless ? cv::saturate_cast<uchar>(measure.lit_paper[static_cast<size_t>(c)])
                                           : lit(pixel[c], gain);
        }
    }
}

namespace {

// The smoothest surface within a circle that has given levels on the circle (Poisson's integral formula, e.g. Ahlfors,
// Complex Analysis, 4.6.3), at `share` of the radius from the centre and at `angle`.
cv::Vec3d within_ring(const PunchHole& hole, double share, double angle) {
    cv::Vec3d sum;
    double weights = 0;
    const double r = std::min(share, 0.97);
    for (size_t i = 0; i < hole.around.size(); ++i) {
        const double to = static_cast<double>(i) * 2 * CV_PI / static_cast<double>(hole.around.size());
        const double weight = (1 - r * r) / (1 - 2 * r * std::cos(angle - to) + r * r);
        for (int c = 0; c < 3; ++c) sum[c] += weight * hole.around.at(i)[c];
        weights += weight;
    }
    return sum / weights;
}

}

void fill_holes(cv::Mat& pixels, const PageMeasure& measure, const Lay& lay) {
    for (const PunchHole& hole : measure.holes) {
        const double x = mm_to_px(hole.spot.x_mm, lay.dpi) - lay.origin.x,
                     y = mm_to_px(hole.spot.y_mm, lay.dpi) - lay.origin.y,
                     radius = mm_to_px(hole.spot.radius_mm + 0.5, lay.dpi),
                     soft = std::max(1.0, mm_to_px(0.4, lay.dpi));
        const cv::Rect box = cv::Rect(cvFloor(x - radius - soft), cvFloor(y - radius - soft),
                                      cvCeil(2 * (radius + soft)) + 2, cvCeil(2 * (radius + soft)) + 2) &
                             cv::Rect(0, 0, pixels.cols, pixels.rows);
        for (int py = box.y; py < box.br().y; ++py) {
            for (int px = box.x; px < box.br().x; ++px) {
                const double dx = px + 0.5 - x, dy = py + 0.5 - y, away = std::hypot(dx, dy);
                const double share = std::clamp((radius - away) / soft + 1, 0.0, 1.0);
                if (share <= 0) continue;
                const cv::Vec3d fill = within_ring(hole, away / (radius + soft), std::atan2(dy, dx));
                uchar* pixel = pixels.ptr(py) + px * pixels.channels();
                for (int c = 0; c < pixels.channels(); ++c)
                    pixel[c] = cv::saturate_cast<uchar>(pixel[c] + share * (fill[c] - pixel[c]));
            }
        }
    }
}

void calm_red_eyes(cv::Mat& pixels, const std::vector<Spot>& on_page, const Lay& lay) {
    if (pixels.channels() != 3) return;
    for (const Spot& eye : on_page) {
        const double x = mm_to_px(eye.x_mm, lay.dpi) - lay.origin.x, y = mm_to_px(eye.y_mm, lay.dpi) - lay.origin.y,
                     radius = mm_to_px(eye.radius_mm * 1.3, lay.dpi);
        const cv::Rect box =
            cv::Rect(cvFloor(x - radius), cvFloor(y - radius), cvCeil(2 * radius) + 2, cvCeil(2 * radius) + 2) &
            cv::Rect(0, 0, pixels.cols, pixels.rows);
        for (int py = box.y; py < box.br().y; ++py) {
            for (int px = box.x; px < box.br().x; ++px) {
                uchar* pixel = pixels.ptr(py) + px * 3;
                const double away = std::hypot(px + 0.5 - x, py + 0.5 - y) / radius;
                const double other = (pixel[0] + pixel[1]) / 2.0,
                             redness = (pixel[2] - other) / std::max(30.0, static_cast<double>(pixel[2]));
                if (away > 1 || redness < 0.2) continue;
                const double share = std::min(1.0, (1 - away) * 4) * std::min(1.0, (redness - 0.2) * 6);
                // A pupil is dark and has no hue. Only the reflection of the flash is removed.
                const double pupil = other * 0.75;
                for (int c = 0; c < 3; ++c) pixel[c] = cv::saturate_cast<uchar>(pixel[c] + share * (pupil - pixel[c]));
            }
        }
    }
}

void drop_colour(cv::Mat& pixels, const PickedColour& colour, double reach_percent, const PageMeasure& measure) {
    if (pixels.channels() != 3 || reach_percent <= 0) return;
    // Relative to the brightness of the paper, hue is the distance from the grey axis.
    const std::array<double, 3> picked{static_cast<double>(colour.blue), static_cast<double>(colour.green),
                                       static_cast<double>(colour.red)};
    std::array<float, 3> scale{}, want{};
    for (size_t c = 0; c < 3; ++c) {
        scale[c] = 1.0F / static_cast<float>(std::max(40, measure.lit_paper[c]));
        want[c] = static_cast<float>(std::min(1.0, picked[c] * static_cast<double>(scale[c])));
    }
    const auto tint = [](const std::array<float, 3>& v) {
        const float mean = (v[0] + v[1] + v[2]) / 3;
        return std::array<float, 3>{v[0] - mean, v[1] - mean, v[2] - mean};
    };
    const auto dot = [](const std::array<float, 3>& a, const std::array<float, 3>& b) {
        return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    };
    const auto wanted = tint(want);
    const float wanted_size = std::sqrt(dot(wanted, wanted));
    if (wanted_size < 0.03F) return; // A grey has no hue that could be dropped.
    // Hues that differ by up to this angle are included: 10 to 60 degrees.
    const auto least_cosine = static_cast<float>(std::cos((10 + reach_percent / 2) * CV_PI / 180));
    for (int y = 0; y < pixels.rows; ++y) {
        uchar* row = pixels.ptr(y);
        for (int x = 0; x < pixels.cols; ++x, row += 3) {
            const std::array<float, 3> v{row[0] * scale[0], row[1] * scale[1], row[2] * scale[2]};
            const auto t = tint(v);
            const float size = std::sqrt(dot(t, t));
            if (size < 0.02F) continue;
            const float cosine = dot(t, wanted) / (size * wanted_size);
            if (cosine < least_cosine) continue;
            // The effect is that of a filter of this colour: the brightest channel behind it shows how much black is
            // present.
            const float seen =
                std::min(1.0F, std::max({v[0] + (1 - want[0]), v[1] + (1 - want[1]), v[2] + (1 - want[2])}));
            const float sure =
                std::min(1.0F, (cosine - least_cosine) / (1.001F - least_cosine) * 3) * std::min(1.0F, size / 0.06F);
            for (int c = 0; c < 3; ++c) {
                const auto paper = static_cast<float>(measure.lit_paper[static_cast<size_t>(c)]);
                row[c] = cv::saturate_cast<uchar>(row[c] + sure * (seen * paper - row[c]));
            }
        }
    }
}

void take_out_screen(cv::Mat& pixels, double screen_lpi, double dpi) {
    const double period = screen_lpi > 0 ? dpi / screen_lpi : 0;
    if (period < 1.2) return; // This resolution does not show the screen.
    // A Gaussian of sigma = period / 2 leaves exp(-2 (pi / 2)^2) = 0.7 % of the screen's first frequency.
    cv::GaussianBlur(pixels, pixels, {0, 0}, period / 2, period / 2, cv::BORDER_REPLICATE);
}

namespace {

// Replaces the pixels of the mask by their surroundings, piece by piece: edges that lead to a piece continue through it
// (Telea, Journal of Graphics Tools 9(1), 2004, by OpenCV). On uniform ground, which is the usual case, the mean of the
// surroundings gives the same result faster.
void fill_from_around(cv::Mat& pixels, const cv::Mat& mask) {
    constexpr int reach = 3; // pixels that are looked at around each
    const cv::Rect all(0, 0, pixels.cols, pixels.rows);
    const InkPieces ink = InkPieces::of(mask);
    for (const InkPiece& piece : ink.pieces()) {
        const cv::Rect box = cv::Rect(piece.box.x - 2 * reach, piece.box.y - 2 * reach, piece.box.width + 4 * reach,
                                      piece.box.height + 4 * reach) &
                             all;
        cv::Mat around, filled;
        cv::bitwise_not(mask(box), around);
        cv::Scalar mean, spread;
        cv::meanStdDev(pixels(box), mean, spread, around);
        constexpr double even = 5; // levels
        if (std::max({spread[0], spread[1], spread[2]}) < even) {
            pixels(box).setTo(mean, mask(box));
            continue;
        }
        cv::inpaint(pixels(box), mask(box), filled, reach, cv::INPAINT_TELEA);
        filled.copyTo(pixels(box), mask(box));
    }
}

}

void remove_dust(cv::Mat& pixels, double widest_mm, double dpi) {
    const int reach = static_cast<int>(std::lround(mm_to_px(widest_mm, dpi)));
    if (reach < 1) return;
    // Dust is light or dark and thinner than a brush of its width: it is removed by an opening or a closing, similarly
    // in all channels, and is stronger than the grain around it.
    const cv::Mat brush = cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * reach + 1, 2 * reach + 1});
    cv::Mat grey = pixels, opened, closed, off, grain;
    if (pixels.channels() == 3) cv::cvtColor(pixels, grey, cv::COLOR_BGR2GRAY);
    cv::morphologyEx(grey, opened, cv::MORPH_OPEN, brush);
    cv::morphologyEx(grey, closed, cv::MORPH_CLOSE, brush);
    off = cv::max(cv::Mat(grey - opened), cv::Mat(closed - grey));
    cv::blur(off, grain, {8 * reach + 1, 8 * reach + 1}, {-1, -1}, cv::BORDER_REPLICATE);
    cv::Mat dust = off > grain * 3 + 18;
    cv::dilate(dust, dust, cv::Mat::ones(3, 3, CV_8U));
    fill_from_around(pixels, dust);
}

void remove_specks(cv::Mat& pixels, double largest_mm, double dpi) {
    const int largest = static_cast<int>(std::lround(mm_to_px(largest_mm, dpi)));
    if (largest < 1) return;
    cv::Mat grey = pixels, smooth, dark;
    if (pixels.channels() == 3) cv::cvtColor(pixels, grey, cv::COLOR_BGR2GRAY);
    // Specks are darker than their surroundings, small and isolated. The dot of an i is within a letter's height of its
    // letter.
    const int around = 6 * largest + 1;
    cv::blur(grey, smooth, {around, around}, {-1, -1}, cv::BORDER_REPLICATE);
    cv::subtract(smooth, grey, dark);
    cv::threshold(dark, dark, 14, 255, cv::THRESH_BINARY);
    const InkPieces ink = InkPieces::of(dark);
    const auto is_small = [&](const InkPiece& piece) {
        return std::max(piece.box.width, piece.box.height) <= largest + 1;
    };
    cv::Mat near_letters(dark.size(), CV_8UC1, cv::Scalar(0)), gone(dark.size(), CV_8UC1, cv::Scalar(0));
    ink.set(near_letters, 255, [&](const InkPiece& piece) { return !is_small(piece); });
    const int apart = 2 * static_cast<int>(std::lround(mm_to_px(1.2, dpi))) + 1;
    cv::dilate(near_letters, near_letters, cv::Mat::ones(apart, apart, CV_8U));
    std::vector<char> belongs(ink.pieces().size(), 0);
    for (const InkPieces::Run& run : ink.runs()) {
        const uchar* const row = near_letters.ptr(run.y);
        if (std::any_of(row + run.from, row + run.to, [](uchar level) { return level > 0; })) belongs[run.piece] = 1;
    }
    for (const InkPieces::Run& run : ink.runs())
        if (!belongs[run.piece] && is_small(ink.pieces()[run.piece]))
            std::fill(gone.ptr(run.y) + run.from, gone.ptr(run.y) + run.to, uchar{255});
    cv::dilate(gone, gone, cv::Mat::ones(5, 5, CV_8U)); // its soft rim too
    fill_from_around(pixels, gone);
}

void sharpen(cv::Mat& pixels, double percent, double dpi) {
    const double sigma = mm_to_px(0.085, dpi); // one pixel at 300 dpi
    if (percent <= 0 || sigma < 0.3) return;
    cv::Mat soft;
    cv::GaussianBlur(pixels, soft, {0, 0}, sigma, sigma, cv::BORDER_REPLICATE);
    cv::addWeighted(pixels, 1 + percent / 100, soft, -percent / 100, 0, pixels);
}

}
