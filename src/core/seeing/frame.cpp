#include "core/seeing/frame.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yelvin {

namespace {

cv::Point2d clockwise(cv::Point2d v, double degrees) {
    const double a = degrees * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
    return {v.x * c - v.y * s, v.x * s + v.y * c};
}

double within_half_turn(double degrees) { return std::remainder(degrees, 360.0); }

RectMm area_of(const std::vector<Frame>& frames, const std::vector<size_t>& which, SizeMm glass) {
    constexpr double margin_mm = 3;
    double left = glass.width, top = glass.height, right = 0, bottom = 0;
    for (const size_t i : which) {
        const RectMm box = hull_of({frames[i].at});
        const double margin = frames[i].found ? margin_mm : 0;
        left = std::min(left, box.x - margin);
        top = std::min(top, box.y - margin);
        right = std::max(right, box.x + box.width + margin);
        bottom = std::max(bottom, box.y + box.height + margin);
    }
    // A scanner that is disconnected or has only a feeder reports a glass without a size.
    const SizeMm room{std::max(glass.width, least_frame_mm), std::max(glass.height, least_frame_mm)};
    left = std::clamp(left, 0.0, room.width - least_frame_mm);
    top = std::clamp(top, 0.0, room.height - least_frame_mm);
    return {left, top, std::clamp(right - left, least_frame_mm, room.width - left),
            std::clamp(bottom - top, least_frame_mm, room.height - top)};
}

}

std::vector<cv::Point2d> corners_of(const Region& r) {
    std::vector<cv::Point2d> out;
    for (const auto& [x, y] : {std::pair{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}})
        out.push_back(cv::Point2d(r.x_mm, r.y_mm) + clockwise({x * r.w_mm, y * r.h_mm}, r.angle_degrees));
    return out;
}

Region turned_by(Region region, double degrees) {
    region.angle_degrees = within_half_turn(region.angle_degrees + degrees);
    return region;
}

Region kept_on(Region r, SizeMm glass) {
    const double longest = std::max(least_frame_mm, std::hypot(glass.width, glass.height));
    r.w_mm = std::clamp(r.w_mm, least_frame_mm, longest);
    r.h_mm = std::clamp(r.h_mm, least_frame_mm, longest);
    const double quarter = std::remainder(r.angle_degrees, 90.0);
    if (std::abs(quarter) < 1e-6) {
        const bool across = std::abs(std::remainder(r.angle_degrees, 180.0)) > 45;
        double& w = across ? r.h_mm : r.w_mm;
        double& h = across ? r.w_mm : r.h_mm;
        w = std::min(w, glass.width);
        h = std::min(h, glass.height);
        r.x_mm = std::clamp(r.x_mm, w / 2, glass.width - w / 2);
        r.y_mm = std::clamp(r.y_mm, h / 2, glass.height - h / 2);
    } else {
        r.x_mm = std::clamp(r.x_mm, 0.0, glass.width);
        r.y_mm = std::clamp(r.y_mm, 0.0, glass.height);
    }
    return r;
}

Recipe frame_recipe(const Region& at, SizeMm picture) {
    Recipe recipe;
    const int quarters = static_cast<int>(std::lround(at.angle_degrees / 90));
    const bool across = quarters % 2 != 0;
    const double w = across ? at.h_mm : at.w_mm, h = across ? at.w_mm : at.h_mm;
    recipe.tilt_degrees = at.angle_degrees - 90.0 * quarters;
    recipe.crop = RectMm{at.x_mm - w / 2, at.y_mm - h / 2, w, h};
    // The top of the paper is rotated to the right by `quarters` quarter turns; the recipe rotates it back.
    return turned(recipe, -quarters, picture);
}

double seconds_for(const std::vector<GlassPass>& passes, double seconds_per_mm, double seconds_per_pass) {
    double seconds = 0;
    for (const GlassPass& pass : passes) seconds += seconds_per_pass + pass.area.height * seconds_per_mm;
    return seconds;
}

std::vector<GlassPass> quickest_passes(const std::vector<Frame>& frames, SizeMm glass, double seconds_per_mm,
                                       double seconds_per_pass) {
    // The carriage moves down the glass along the frames in order from the top, and a new pass begins where that is
    // faster. The best plan for the first n frames is the best over all positions where their last pass may begin
    // (dynamic programming).
    std::vector<size_t> order(frames.size());
    for (size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::ranges::sort(order, {}, [&](size_t i) { return hull_of({frames[i].at}).y; });
    std::vector<double> best(frames.size() + 1, 1e9);
    std::vector<size_t> begins(frames.size() + 1, 0);
    best[0] = 0;
    for (size_t end = 1; end <= order.size(); ++end) {
        for (size_t begin = 0; begin < end; ++begin) {
            const std::vector<size_t> which(order.begin() + static_cast<ptrdiff_t>(begin),
                                            order.begin() + static_cast<ptrdiff_t>(end));
            const double seconds =
                best[begin] + seconds_per_pass + area_of(frames, which, glass).height * seconds_per_mm;
            if (seconds < best[end]) {
                best[end] = seconds;
                begins[end] = begin;
            }
        }
    }
    std::vector<GlassPass> passes;
    for (size_t end = order.size(); end > 0; end = begins[end]) {
        std::vector<size_t> which(order.begin() + static_cast<ptrdiff_t>(begins[end]),
                                  order.begin() + static_cast<ptrdiff_t>(end));
        std::ranges::sort(which);
        passes.push_back({area_of(frames, which, glass), which});
    }
    std::ranges::reverse(passes);
    return passes;
}

Guides guides_for(SizeMm glass, const std::vector<Region>& found) {
    Guides guides{{0, glass.width}, {0, glass.height}};
    for (const Region& region : found) {
        const RectMm box = hull_of({region});
        guides.x_mm.insert(guides.x_mm.end(), {box.x, box.x + box.width});
        guides.y_mm.insert(guides.y_mm.end(), {box.y, box.y + box.height});
    }
    return guides;
}

std::optional<double> snapped_to(double at_mm, const std::vector<double>& lines, double reach_mm) {
    std::optional<double> best;
    for (const double line : lines) {
        if (std::abs(line - at_mm) <= (best ? std::abs(*best - at_mm) : reach_mm)) best = line;
    }
    return best;
}

}
