#include "core/developing/measure.h"

#include "core/developing/retouch.h"

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

// The level that the fraction `share` of the pixels does not exceed.
int level_at(const std::array<int, 256>& counts, double share) {
    const double wanted = share * std::accumulate(counts.begin(), counts.end(), 0.0);
    double passed = 0;
    for (int level = 0; level < 256; ++level) {
        passed += counts[static_cast<size_t>(level)];
        if (passed >= wanted && passed > 0) return level;
    }
    return 255;
}

// The greatest steepness with which a shadow ends, within 0.5 mm, as a share of its darkness, and the greatest
// difference between its channels. On 100 generated shadows and 100 bars (seeds 1 to 20 of
// tests/reference/blemishes_test.cpp) shadows had up to 0.28 and bars 0.71 and more; the channels of shadows differed
// by 0.005, those of coloured bars by 0.29 on average.
constexpr double steepest_shadow = 0.45, most_shadow_tint = 0.12;

struct Disc {
    Spot spot;
    double to_edge[4]; // left, top, right, bottom; mm
};

// Returns the round regions of the mask, 4.2 to 9 mm wide, that have a uniform tone on the page.
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

// Returns the brightness of the paper, one pixel per 2 mm. Marks are removed by a morphological closing of 10 mm.
cv::Mat light_of_paper(const Raster& page) {
    const double cells = mm_per_inch / 2;
    const double scale = std::min(1.0, cells / page.dpi);
    cv::Mat small = scaled(page.pixels, scale, scale, cv::INTER_AREA);
    cv::morphologyEx(small, small, cv::MORPH_CLOSE, cv::Mat::ones(5, 5, CV_8U));
    cv::GaussianBlur(small, small, {0, 0}, 3);
    return small;
}

// Returns the lines parallel to the side as rows, the outermost first.
cv::Mat from_side(const cv::Mat& pixels, size_t side) {
    cv::Mat out; // A matrix of its own, so that rotating never writes into the page.
    if (side == 1) out = pixels;
    if (side == 0) cv::rotate(pixels, out, cv::ROTATE_90_CLOCKWISE);
    if (side == 2) cv::rotate(pixels, out, cv::ROTATE_90_COUNTERCLOCKWISE);
    if (side == 3) cv::flip(pixels, out, 0);
    return out;
}

// Returns the brightness of each step inwards, relative to the paper: the level that four tenths of the line exceed,
// because print never covers that much of a line.
std::vector<double> profile_of(const cv::Mat& from_edge, int steps, double dpi, double paper) {
    std::vector<double> profile;
    for (int i = 0; i < steps; ++i) {
        const int row = static_cast<int>(mm_to_px(i * shadow_step_mm, dpi));
        profile.push_back(level_at(counted(from_edge.row(row)), 0.6) / paper);
    }
    return profile;
}

// Print turns into paper within the scanner's blur, 0.5 mm; a shadow that is deep enough to be visible takes longer.
bool ends_in_an_edge(const std::vector<double>& profile, size_t depth) {
    const double darkest = *std::ranges::min_element(profile.begin(), profile.begin() + static_cast<ptrdiff_t>(depth));
    double steepest = 0;
    constexpr size_t blur = 2; // steps: 0.5 mm
    for (size_t i = 1; i + blur < profile.size() && i < depth + blur; ++i)
        steepest = std::max(steepest, profile[i + blur] - profile[i]);
    return steepest > steepest_shadow * (1 - darkest);
}

// Whether the dark strip has another hue than the paper. The brightness of each channel is compared with the paper's.
bool has_a_hue(const Raster& page, size_t side, size_t depth) {
    if (page.pixels.channels() != 3) return false;
    std::vector<cv::Mat> planes;
    cv::split(page.pixels, planes);
    std::array<std::vector<double>, 3> profiles;
    for (size_t c = 0; c < 3; ++c)
        profiles[c] = profile_of(from_side(planes[c], side), static_cast<int>(depth), page.dpi, paper_level(planes[c]));
    double widest = 0;
    for (size_t i = 0; i < depth; ++i) {
        const auto [low, high] = std::minmax({profiles[0][i], profiles[1][i], profiles[2][i]});
        widest = std::max(widest, high - low);
    }
    return widest > most_shadow_tint;
}

}

std::array<std::vector<double>, 4> edge_shadows(const Raster& page) {
    std::array<std::vector<double>, 4> out;
    cv::Mat grey = grey_pixels(page);
    const double paper = paper_level(grey);
    constexpr double deepest_mm = 15, checked_mm = 22;
    const auto steps = static_cast<int>(checked_mm / shadow_step_mm);
    for (size_t side = 0; side < 4; ++side) {
        const cv::Mat from_edge = from_side(grey, side);
        if (mm_to_px(checked_mm, page.dpi) * 3 > from_edge.rows) continue;
        const std::vector<double> all = profile_of(from_edge, steps, page.dpi, paper);
        std::vector<double> profile = all;
        // A shadow must end: there is paper further inside, and the edge is clearly darker than the paper.
        const auto end = std::ranges::find_if(profile, [](double v) { return v > 0.97; });
        const auto depth = static_cast<size_t>(end - profile.begin());
        if (end == profile.end() || static_cast<double>(depth) * shadow_step_mm > deepest_mm || depth < 2) continue;
        const bool paper_behind = std::all_of(end, profile.end(), [](double v) { return v > 0.93; });
        if (!paper_behind || *std::ranges::min_element(profile.begin(), end) > 0.9) continue;
        profile.resize(depth);
        if (ends_in_an_edge(all, depth) || has_a_hue(page, side, depth)) continue;
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
    // The regions, dark or light, that a brush wider than any hole does not fit into. Shadows along edges are not
    // affected.
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

namespace {

// Samples a ring of 1 mm around each hole, step by step, and takes the lighter part, so that a letter that reaches into
// the ring is not smeared into the hole.
std::vector<PunchHole> with_what_is_around(const std::vector<Spot>& spots, const Raster& page) {
    std::vector<PunchHole> out;
    for (const Spot& spot : spots) {
        PunchHole hole{spot};
        for (size_t i = 0; i < hole.around.size(); ++i) {
            std::array<std::vector<uchar>, 3> seen;
            for (int step = -4; step <= 4; ++step) {
                const double angle = (static_cast<double>(i) + step / 8.0) * 2 * std::numbers::pi /
                                     static_cast<double>(hole.around.size());
                for (double away = spot.radius_mm + 0.6; away < spot.radius_mm + 1.6; away += 0.25) {
                    const int x = static_cast<int>(mm_to_px(spot.x_mm + away * std::cos(angle), page.dpi)),
                              y = static_cast<int>(mm_to_px(spot.y_mm + away * std::sin(angle), page.dpi));
                    if (x < 0 || y < 0 || x >= page.width_px() || y >= page.height_px()) continue;
                    for (size_t c = 0; c < 3; ++c)
                        seen[c].push_back(page.pixels.channels() == 3
                                              ? page.pixels.at<cv::Vec3b>(y, x)[static_cast<int>(c)]
                                              : page.pixels.at<uchar>(y, x));
                }
            }
            for (size_t c = 0; c < 3; ++c) {
                if (seen[c].empty()) seen[c].push_back(255);
                const auto lighter = seen[c].begin() + static_cast<ptrdiff_t>(seen[c].size() * 7 / 10);
                std::ranges::nth_element(seen[c], lighter);
                hole.around.at(i)[static_cast<int>(c)] = *lighter;
            }
        }
        out.push_back(hole);
    }
    return out;
}

std::array<int, 3> papers_of(const cv::Mat& pixels) {
    std::vector<cv::Mat> planes;
    cv::split(pixels, planes);
    std::array<int, 3> out{};
    for (size_t i = 0; i < 3; ++i) out.at(i) = paper_level(planes[std::min(i, planes.size() - 1)]);
    return out;
}

}

PageMeasure measure_page(const Raster& page, const Adjust& adjust) {
    PageMeasure out;
    Raster now = page; // The page after each correction so far.
    const bool changes = adjust.even_light > 0 || adjust.edge_shadow > 0 || adjust.punch_holes > 0 ||
                         (adjust.drop_colour && adjust.drop_reach > 0);
    if (changes) now.pixels = page.pixels.clone();
    const Lay lay{page.dpi, {}, {page.width_px(), page.height_px()}};
    if (adjust.even_light > 0) {
        out.light = light_of_paper(now);
        even_out_light(now.pixels, out, lay);
    }
    out.lit_paper = papers_of(now.pixels);
    if (adjust.edge_shadow > 0) {
        out.shadow = edge_shadows(now);
        lift_edge_shadows(now.pixels, out, lay);
    }
    if (adjust.punch_holes > 0) {
        out.holes = with_what_is_around(punch_holes(now), now);
        fill_holes(now.pixels, out, lay);
    }
    if (adjust.drop_colour) drop_colour(now.pixels, *adjust.drop_colour, adjust.drop_reach, out);
    out.paper = papers_of(now.pixels);
    std::vector<cv::Mat> planes;
    cv::split(now.pixels, planes);
    for (size_t i = 0; i < 3; ++i) {
        const auto counts = counted(planes[std::min(i, planes.size() - 1)]);
        out.lights.at(i) = level_at(counts, 0.99);
        out.darks.at(i) = level_at(counts, 0.005);
    }
    return out;
}

}
