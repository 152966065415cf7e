#include "core/seeing/blemishes.h"

#include "core/developing/measure.h"
#include "core/raster/ink_pieces.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

// Returns the highest of `levels` within each piece.
std::vector<uchar> most_in_each(const InkPieces& pieces, const cv::Mat& levels) {
    std::vector<uchar> most(pieces.pieces().size());
    for (const InkPieces::Run& run : pieces.runs()) {
        const uchar* row = levels.ptr(run.y);
        most[run.piece] = std::max(most[run.piece], *std::max_element(row + run.from, row + run.to));
    }
    return most;
}

// Returns the amount of print that shines through from the other side: pale and blurred letters that are not near this
// side's own print.
double show_through(const Marks& marks) {
    const int range = std::max(60, marks.paper - marks.print);
    cv::Mat weak, strong, steps;
    cv::inRange(marks.strength, 7, std::max(12, range * 3 / 10), weak);
    cv::threshold(marks.strength, strong, range * 0.35, 255, cv::THRESH_BINARY);
    const int away = 2 * static_cast<int>(mm_to_px(0.7, marks.dpi)) + 1;
    cv::dilate(strong, strong, cv::Mat::ones(away, away, CV_8U));
    weak.setTo(0, strong);
    cv::morphologyEx(weak, weak, cv::MORPH_OPEN, cv::Mat::ones(2, 2, CV_8U));
    // Most pages have hardly any, so the analysis ends here.
    if (100.0 * cv::countNonZero(weak) / static_cast<double>(weak.total()) < much_show_through_percent) return 0;
    cv::Mat soft;
    cv::blur(marks.grey, soft, {3, 3});
    cv::morphologyEx(soft, steps, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
    const double least = mm_to_px(1.0, marks.dpi), most = mm_to_px(12, marks.dpi);
    int letters = 0;
    double area = 0;
    const InkPieces pieces = InkPieces::of(weak);
    const std::vector<uchar> all_deepest = most_in_each(pieces, marks.strength),
                             all_steepest = most_in_each(pieces, steps);
    for (size_t i = 0; i < pieces.pieces().size(); ++i) {
        const auto& [box, area_px] = pieces.pieces()[i];
        const int longer = std::max(box.width, box.height);
        if (longer < least || longer > most || area_px > 0.9 * box.area()) continue;
        // Pencil is as pale, but its edges are only a pixel or two wide.
        if (all_deepest[i] < 9 || all_steepest[i] > 0.75 * all_deepest[i]) continue;
        ++letters;
        area += area_px;
    }
    constexpr int enough_letters = 25;
    return letters < enough_letters ? 0 : 100 * area / static_cast<double>(weak.total());
}

// Whether letters are cut off at each side of the picture: at least three per side.
std::array<bool, 4> cut_off(const Marks& marks) {
    cv::Mat print;
    cv::threshold(marks.strength, print, std::max(30, (marks.paper - marks.print) / 2), 255, cv::THRESH_BINARY);
    const int reach = static_cast<int>(mm_to_px(14, marks.dpi));
    std::array<bool, 4> out{};
    const cv::Rect all(0, 0, print.cols, print.rows);
    const std::array<cv::Rect, 4> strips{cv::Rect(0, 0, reach, print.rows), cv::Rect(0, 0, print.cols, reach),
                                         cv::Rect(print.cols - reach, 0, reach, print.rows),
                                         cv::Rect(0, print.rows - reach, print.cols, reach)};
    for (size_t side = 0; side < 4; ++side) {
        const cv::Rect strip = strips[side] & all;
        if (strip.empty()) continue;
        const cv::Mat rim = side == 0   ? print.col(0)
                            : side == 1 ? print.row(0)
                            : side == 2 ? print.col(print.cols - 1)
                                        : print.row(print.rows - 1);
        if (cv::countNonZero(rim) < 3) continue;
        const InkPieces pieces = InkPieces::of(print(strip));
        int cut = 0, whole = 0;
        for (const auto& [box, area_px] : pieces.pieces()) {
            const double longer = px_to_mm(std::max(box.width, box.height), marks.dpi),
                         shorter = px_to_mm(std::min(box.width, box.height), marks.dpi);
            if (longer < 0.8 || longer > 8 || shorter * 8 < longer || area_px > 0.85 * box.area()) continue;
            const bool touches = side == 0   ? box.x == 0
                                 : side == 1 ? box.y == 0
                                 : side == 2 ? box.br().x == strip.width
                                             : box.br().y == strip.height;
            ++(touches ? cut : whole);
        }
        out[side] = cut >= 3 && whole >= cut;
    }
    return out;
}

// The contrast of the median letter: its darkest stroke relative to the paper around it.
double contrast_of(const Marks& marks, const Letters& letters) {
    if (letters.boxes.empty()) return 0;
    std::vector<double> darkest;
    for (const cv::Rect& box : letters.boxes) {
        double most = 0;
        cv::minMaxLoc(marks.strength(box), nullptr, &most);
        darkest.push_back(most);
    }
    const auto middle = darkest.begin() + static_cast<ptrdiff_t>(darkest.size() / 2);
    std::ranges::nth_element(darkest, middle);
    return 100 * *middle / std::max(1, marks.paper);
}

double uneven_light(const Marks& marks) {
    cv::Mat light, sorted;
    const double scale = std::min(1.0, mm_per_inch / 3 / marks.dpi); // a pixel for each 3 mm
    light = scaled(marks.grey, scale, scale, cv::INTER_AREA);
    cv::morphologyEx(light, light, cv::MORPH_CLOSE, cv::Mat::ones(7, 7, CV_8U));
    const int rim = 3; // Shadows along the edges are found separately.
    if (light.cols < 4 * rim || light.rows < 4 * rim) return 0;
    sorted = light(cv::Rect(rim, rim, light.cols - 2 * rim, light.rows - 2 * rim)).clone().reshape(1, 1);
    cv::sort(sorted, sorted, cv::SORT_ASCENDING);
    const double dark = sorted.at<uchar>(sorted.cols / 20), bright = sorted.at<uchar>(sorted.cols * 19 / 20);
    return bright > 0 ? 100 * (1 - dark / bright) : 0;
}

}

Blemishes find_blemishes(const Raster& raster, const Marks& marks, const Letters& letters) {
    Blemishes out;
    out.contrast_percent = contrast_of(marks, letters);
    out.show_through_percent = show_through(marks);
    out.cut_off = cut_off(marks);
    out.uneven_percent = uneven_light(marks);
    const Raster coarse = at_resolution(raster, 100);
    const auto shadows = edge_shadows(coarse);
    for (size_t side = 0; side < 4; ++side) out.shadow_mm[side] = shadow_depth_mm(shadows[side]);
    out.punch_holes = static_cast<int>(punch_holes(coarse).size());
    return out;
}

// Printed dots form a lattice: in the spectrum of a patch of middle tones they appear as single peaks, at the same
// place in patch after patch. Pictures and lines of text do not.
double screen_of(const Raster& original) {
    constexpr int side = 128;
    if (original.dpi < 140 || original.width_px() < 3 * side || original.height_px() < 3 * side) return 0;
    if (original.ink == Ink::Black) return 0;
    cv::Mat window, sum(side, side, CV_32F, cv::Scalar(0));
    cv::createHanningWindow(window, {side, side}, CV_32F);
    int patches = 0;
    constexpr int across = 9;
    for (int gy = 0; gy < across && patches < 24; ++gy) {
        for (int gx = 0; gx < across; ++gx) {
            const cv::Rect at((original.width_px() - side) * gx / (across - 1),
                              (original.height_px() - side) * gy / (across - 1), side, side);
            cv::Mat grey = original.pixels(at), values;
            if (grey.channels() == 3) cv::cvtColor(grey, grey, cv::COLOR_BGR2GRAY);
            cv::Scalar mean, spread;
            cv::meanStdDev(grey, mean, spread);
            if (mean[0] < 40 || mean[0] > 225 || spread[0] < 4) continue;
            grey.convertTo(values, CV_32F, 1, -mean[0]);
            cv::Mat spectrum, parts[2], magnitude;
            cv::dft(values.mul(window), spectrum, cv::DFT_COMPLEX_OUTPUT);
            cv::split(spectrum, parts);
            cv::magnitude(parts[0], parts[1], magnitude);
            sum += magnitude;
            ++patches;
        }
    }
    if (patches < 3) return 0;
    // The upper half contains each frequency once. Frequencies are in cycles per pixel.
    const auto frequency = [](int i) { return static_cast<double>(i <= side / 2 ? i : i - side) / side; };
    const double least = 55 / original.dpi, most = std::min(0.45, 260 / original.dpi);
    std::vector<float> all;
    float highest = 0;
    double found = 0;
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x <= side / 2; ++x) {
            const double fx = frequency(x), fy = frequency(y), f = std::hypot(fx, fy);
            if (f < least || f > most) continue;
            // Ruled lines, tables and scanner artefacts are along the axes.
            if (std::abs(fx) < 1.5 / side || std::abs(fy) < 1.5 / side) continue;
            const float value = sum.at<float>(y, x);
            all.push_back(value);
            if (value > highest) {
                highest = value;
                found = f;
            }
        }
    }
    if (all.size() < 50) return 0;
    std::ranges::nth_element(all, all.begin() + static_cast<ptrdiff_t>(all.size() / 2));
    // A wave of one grey level in every patch adds up to an eighth of the patch's pixels: half of it at each of its two
    // places, and the window function halves each of its two directions.
    constexpr float stands_out = 9, least_levels = 1.5F;
    const float level = static_cast<float>(patches) * side * side / 8;
    return highest > stands_out * all[all.size() / 2] && highest > least_levels * level
               ? std::round(found * original.dpi)
               : 0;
}

}
