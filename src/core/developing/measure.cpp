#include "core/developing/measure.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <iterator>
#include <numbers>
#include <numeric>

namespace yelvin {

namespace {

std::array<int, 256> counted(const cv::Mat& plane) {
    std::array<int, 256> counts{};
    for (int y = 0; y < plane.rows; ++y) {
        const uchar* row = plane.ptr(y);
        for (int x = 0; x < plane.cols; ++x) ++counts[row[x]];
    }
    return counts;
}

// The level that `share` of the dots is at or under.
int level_at(const std::array<int, 256>& counts, double share) {
    const double wanted = share * std::accumulate(counts.begin(), counts.end(), 0.0);
    double passed = 0;
    for (int level = 0; level < 256; ++level) {
        passed += counts[static_cast<size_t>(level)];
        if (passed >= wanted && passed > 0) return level;
    }
    return 255;
}

struct Disc {
    Spot spot;
    double to_edge[4]; // left, top, right, bottom; mm
};

// Round places of the mask, 4.2 to 9 mm wide, of one even tone on the page.
std::vector<Disc> discs_in(const cv::Mat& mask, const Raster& page) {
    const cv::Mat grey = grey_pixels(page);
    cv::Mat labels, stats, centres;
    const int count = cv::connectedComponentsWithStats(mask, labels, stats, centres, 4, CV_32S);
    std::vector<Disc> discs;
    const double mm = mm_per_inch / page.dpi;
    const SizeMm size = page.size_mm();
    for (int i = 1; i < count; ++i) {
        const int w = stats.at<int>(i, cv::CC_STAT_WIDTH), h = stats.at<int>(i, cv::CC_STAT_HEIGHT);
        const double wide = w * mm, high = h * mm,
                     filled = stats.at<int>(i, cv::CC_STAT_AREA) / static_cast<double>(w * h);
        if (wide < 4.2 || wide > 9 || high < 4.2 || high > 9 || std::abs(wide - high) > 0.9) continue;
        if (std::abs(filled - std::numbers::pi / 4) > 0.09) continue;
        const cv::Rect box(stats.at<int>(i, cv::CC_STAT_LEFT), stats.at<int>(i, cv::CC_STAT_TOP), w, h);
        cv::Scalar mean, spread;
        const cv::Rect core(box.x + w / 4, box.y + h / 4, w / 2, h / 2);
        cv::meanStdDev(grey(core), mean, spread);
        if (spread[0] > 14) continue;
        const double x = (centres.at<double>(i, 0) + 0.5) * mm, y = (centres.at<double>(i, 1) + 0.5) * mm;
        discs.push_back({{x, y, (wide + high) / 4}, {x, y, size.width - x, size.height - y}});
    }
    return discs;
}

// The paper's brightness, marks removed by a closing of 10 mm, one dot for each 2 mm.
cv::Mat light_of_paper(const Raster& page) {
    const double cells = mm_per_inch / 2;
    const double scale = std::min(1.0, cells / page.dpi);
    cv::Mat small = scaled(page.pixels, scale, scale, cv::INTER_AREA);
    cv::morphologyEx(small, small, cv::MORPH_CLOSE, cv::Mat::ones(5, 5, CV_8U));
    cv::GaussianBlur(small, small, {0, 0}, 3);
    return small;
}

}

std::array<std::vector<double>, 4> edge_shadows(const Raster& page) {
    std::array<std::vector<double>, 4> out;
    cv::Mat grey = grey_pixels(page);
    const double paper = paper_level(grey);
    constexpr double deepest_mm = 15, checked_mm = 22;
    const auto steps = static_cast<int>(checked_mm / shadow_step_mm);
    for (size_t side = 0; side < 4; ++side) {
        cv::Mat from_edge; // the side's lines as rows, the outermost first
        if (side == 0) cv::rotate(grey, from_edge, cv::ROTATE_90_CLOCKWISE);
        if (side == 1) from_edge = grey;
        if (side == 2) cv::rotate(grey, from_edge, cv::ROTATE_90_COUNTERCLOCKWISE);
        if (side == 3) cv::flip(grey, from_edge, 0);
        if (mm_to_px(checked_mm, page.dpi) * 3 > from_edge.rows) continue;
        std::vector<double> profile;
        for (int i = 0; i < steps; ++i) {
            const int row = static_cast<int>(mm_to_px(i * shadow_step_mm, page.dpi));
            // Half of the line is darker than this: print does not cover half of any line.
            profile.push_back(level_at(counted(from_edge.row(row)), 0.6) / paper);
        }
        // A shadow ends: further in there is paper, and the edge is clearly darker than it.
        const auto end = std::ranges::find_if(profile, [](double v) { return v > 0.97; });
        const auto depth = static_cast<size_t>(end - profile.begin());
        if (end == profile.end() || static_cast<double>(depth) * shadow_step_mm > deepest_mm || depth < 2) continue;
        const bool paper_behind = std::all_of(end, profile.end(), [](double v) { return v > 0.93; });
        if (!paper_behind || *std::ranges::min_element(profile.begin(), end) > 0.9) continue;
        profile.resize(depth);
        out[side] = std::move(profile);
    }
    return out;
}

double shadow_depth_mm(const std::vector<double>& side) { return static_cast<double>(side.size()) * shadow_step_mm; }

// ISO 838 punches 6 mm wide, 12 mm from the edge, 80 mm apart; other punches 5 to 8 mm. Round places of one even tone
// that is not the paper's, at least two of them in a row along an edge.
std::vector<Spot> punch_holes(const Raster& page) {
    const cv::Mat grey = grey_pixels(page);
    cv::Mat smooth, filled, emptied;
    cv::GaussianBlur(grey, smooth, {0, 0}, 0.6);
    // What a brush wider than any hole does not get into, dark or light. Shadows along edges stay as they are.
    const int brush = 2 * static_cast<int>(mm_to_px(5, page.dpi)) + 1;
    const cv::Mat square = cv::getStructuringElement(cv::MORPH_RECT, {brush, brush});
    cv::morphologyEx(smooth, filled, cv::MORPH_CLOSE, square);
    cv::morphologyEx(smooth, emptied, cv::MORPH_OPEN, square);
    constexpr int clearly = 22; // levels
    std::vector<Disc> discs = discs_in(cv::Mat(filled - smooth) > clearly, page);
    std::ranges::copy(discs_in(cv::Mat(smooth - emptied) > clearly, page), std::back_inserter(discs));
    std::vector<Spot> out;
    for (size_t side = 0; side < 4; ++side) {
        const auto along = [&](const Disc& d) { return side % 2 == 0 ? d.spot.y_mm : d.spot.x_mm; };
        for (const Disc& disc : discs) {
            const bool near = disc.to_edge[side] > 4 && disc.to_edge[side] < 22;
            const bool has_partner = std::ranges::any_of(discs, [&](const Disc& other_disc) {
                return std::abs(other_disc.to_edge[side] - disc.to_edge[side]) < 2.5 &&
                       std::abs(along(other_disc) - along(disc)) > 15 &&
                       std::abs(other_disc.spot.radius_mm - disc.spot.radius_mm) < 0.8;
            });
            if (near && has_partner && std::ranges::find(out, disc.spot) == out.end()) out.push_back(disc.spot);
        }
    }
    return out;
}

PageMeasure measure_page(const Raster& page, const Adjust& adjust) {
    PageMeasure out;
    std::vector<cv::Mat> planes;
    cv::split(page.pixels, planes);
    for (size_t i = 0; i < planes.size(); ++i) {
        const auto counts = counted(planes[i]);
        out.paper[i] = paper_level(planes[i]);
        out.lights[i] = level_at(counts, 0.99);
        out.darks[i] = level_at(counts, 0.005);
    }
    for (size_t i = planes.size(); i < 3; ++i) {
        out.paper[i] = out.paper[0];
        out.lights[i] = out.lights[0];
        out.darks[i] = out.darks[0];
    }
    if (adjust.even_light > 0) out.light = light_of_paper(page);
    if (adjust.edge_shadow > 0) out.shadow = edge_shadows(page);
    if (adjust.punch_holes > 0) out.holes = punch_holes(page);
    return out;
}

}
