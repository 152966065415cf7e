#include "app/glass/frame_drag.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yelvin {

namespace {

cv::Point2d turned(cv::Point2d v, double degrees) { // clockwise
    const double a = degrees * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
    return {v.x * c - v.y * s, v.x * s + v.y * c};
}
// Converts to the frame's own directions, from its centre.
cv::Point2d own(const Region& r, cv::Point2d mm) { return turned(mm - cv::Point2d(r.x_mm, r.y_mm), -r.angle_degrees); }

bool is_upright(const Region& r) { return std::abs(std::remainder(r.angle_degrees, 90.0)) < 0.05; }

double snapped(double at, const std::vector<double>& lines, double reach, std::vector<double>& used) {
    const auto line = reach > 0 ? snapped_to(at, lines, reach) : std::nullopt;
    if (!line) return at;
    used.push_back(*line);
    return *line;
}

// Returns how far a side must be moved to lie on a side of an item that is turned by the same angle.
double along_found(const Region& r, int side_x, int side_y, const Snapping& snapping) {
    double best = 0, nearest = snapping.reach_mm;
    for (const Region& item : snapping.found) {
        const double off = std::remainder(item.angle_degrees - r.angle_degrees, 90.0);
        if (std::abs(off) > 3) continue;
        for (const cv::Point2d& corner : corners_of(item)) {
            const cv::Point2d at = own(r, corner);
            const double to = side_x != 0 ? at.x - side_x * r.w_mm / 2 : at.y - side_y * r.h_mm / 2;
            if (std::abs(to) < nearest) {
                nearest = std::abs(to);
                best = to;
            }
        }
    }
    return best;
}

Dragged moved(const Region& start, cv::Point2d by, const Snapping& s) {
    Dragged out{start, {}, {}};
    out.at.x_mm += by.x;
    out.at.y_mm += by.y;
    // The outer edge nearest to a line determines the move of the whole frame.
    const RectMm box = hull_of({out.at});
    const auto shift = [&](double low, double high, const std::vector<double>& lines, std::vector<double>& used) {
        if (s.reach_mm <= 0) return 0.0;
        const double a = snapped_to(low, lines, s.reach_mm).value_or(low + 1e6),
                     b = snapped_to(high, lines, s.reach_mm).value_or(high + 1e6);
        const double by_low = a - low, by_high = b - high;
        if (std::min(by_low, by_high) > 1e5) return 0.0;
        const bool low_is_nearer = std::abs(by_low) <= std::abs(by_high);
        used.push_back(low_is_nearer ? a : b);
        return low_is_nearer ? by_low : by_high;
    };
    out.at.x_mm += shift(box.x, box.x + box.width, s.guides.x_mm, out.guides_x);
    out.at.y_mm += shift(box.y, box.y + box.height, s.guides.y_mm, out.guides_y);
    out.at = kept_on(out.at, s.glass);
    return out;
}

Dragged resized(const Region& start, const Grip& grip, cv::Point2d by, const Snapping& s) {
    Dragged out{start, {}, {}};
    const cv::Point2d along = turned(by, -start.angle_degrees);
    double left = -start.w_mm / 2, right = -left, top = -start.h_mm / 2, bottom = -top;
    if (grip.side_x < 0) left = std::min(left + along.x, right - least_frame_mm);
    if (grip.side_x > 0) right = std::max(right + along.x, left + least_frame_mm);
    if (grip.side_y < 0) top = std::min(top + along.y, bottom - least_frame_mm);
    if (grip.side_y > 0) bottom = std::max(bottom + along.y, top + least_frame_mm);
    const auto apply = [&] {
        const cv::Point2d centre = turned({(left + right) / 2, (top + bottom) / 2}, start.angle_degrees);
        out.at = {start.x_mm + centre.x, start.y_mm + centre.y, right - left, bottom - top, start.angle_degrees};
    };
    apply();
    if (!is_upright(start)) {
        if (s.reach_mm <= 0) return out;
        if (grip.side_x != 0) (grip.side_x < 0 ? left : right) += along_found(out.at, grip.side_x, 0, s);
        if (grip.side_y != 0) (grip.side_y < 0 ? top : bottom) += along_found(out.at, 0, grip.side_y, s);
        apply();
        return out;
    }
    // For an upright frame, each moved side lies on a line across the glass.
    const int quarter = static_cast<int>(std::lround(start.angle_degrees / 90)) & 3;
    const cv::Point2d direction =
        turned({static_cast<double>(grip.side_x), static_cast<double>(grip.side_y)}, quarter * 90.0);
    RectMm box = hull_of({out.at});
    double x0 = box.x, x1 = box.x + box.width, y0 = box.y, y1 = box.y + box.height;
    const auto side = [&](double at, double most, const std::vector<double>& lines, std::vector<double>& used) {
        return std::clamp(snapped(at, lines, s.reach_mm, used), 0.0, most);
    };
    if (direction.x < -0.5) x0 = std::min(side(x0, s.glass.width, s.guides.x_mm, out.guides_x), x1 - least_frame_mm);
    if (direction.x > 0.5) x1 = std::max(side(x1, s.glass.width, s.guides.x_mm, out.guides_x), x0 + least_frame_mm);
    if (direction.y < -0.5) y0 = std::min(side(y0, s.glass.height, s.guides.y_mm, out.guides_y), y1 - least_frame_mm);
    if (direction.y > 0.5) y1 = std::max(side(y1, s.glass.height, s.guides.y_mm, out.guides_y), y0 + least_frame_mm);
    const bool across = quarter % 2 == 1;
    out.at = {(x0 + x1) / 2, (y0 + y1) / 2, across ? y1 - y0 : x1 - x0, across ? x1 - x0 : y1 - y0,
              start.angle_degrees};
    return out;
}

Dragged turned_to(const Region& start, cv::Point2d to, const Snapping& s) {
    const cv::Point2d up = to - cv::Point2d(start.x_mm, start.y_mm);
    double angle = std::atan2(up.y, up.x) * 180 / std::numbers::pi + 90;
    if (s.reach_mm > 0) {
        std::vector<double> straight{0};
        for (const Region& item : s.found) straight.push_back(item.angle_degrees);
        for (const double at : straight) {
            const double off = std::remainder(angle - at, 90.0);
            if (std::abs(off) < 1.2) {
                angle -= off;
                break;
            }
        }
    }
    Dragged out{start, {}, {}};
    out.at.angle_degrees = std::remainder(std::round(angle * 100) / 100, 360.0);
    out.at = kept_on(out.at, s.glass);
    return out;
}

}

std::pair<cv::Point2d, cv::Point2d> bar_of(const Region& r, double mm_per_px) {
    const double half = std::clamp(r.w_mm * 0.2, 11 * mm_per_px, 45 * mm_per_px),
                 above = -r.h_mm / 2 - bar_distance_px * mm_per_px;
    const cv::Point2d centre(r.x_mm, r.y_mm);
    return {centre + turned({-half, above}, r.angle_degrees), centre + turned({half, above}, r.angle_degrees)};
}

Grip grip_at(const std::vector<Frame>& frames, cv::Point2d mm, double mm_per_px) {
    for (int i = static_cast<int>(frames.size()) - 1; i >= 0; --i) {
        const Region& r = frames[static_cast<size_t>(i)].at;
        const cv::Point2d at = own(r, mm);
        const double half_w = r.w_mm / 2, half_h = r.h_mm / 2;
        const double bar = std::clamp(r.w_mm * 0.2, 11 * mm_per_px, 45 * mm_per_px);
        const bool on_bar = std::abs(at.x) < bar + 3 * mm_per_px && at.y < -half_h - 4 * mm_per_px &&
                            at.y > -half_h - (bar_distance_px + 7) * mm_per_px;
        if (on_bar) return {i, Grip::Part::Bar, 0, 0};
        const double beyond = 8 * mm_per_px;
        if (std::abs(at.x) > half_w + beyond || std::abs(at.y) > half_h + beyond) continue;
        const double corner = std::min(12 * mm_per_px, std::min(r.w_mm, r.h_mm) / 3);
        const auto side = [](double value, double half, double reach) {
            return std::abs(value + half) <= reach ? -1 : std::abs(value - half) <= reach ? 1 : 0;
        };
        const int cx = side(at.x, half_w, corner), cy = side(at.y, half_h, corner);
        if (cx != 0 && cy != 0) return {i, Grip::Part::Corner, cx, cy};
        // An edge is a narrower target than a corner.
        const double edge = std::min(6 * mm_per_px, corner);
        const int ex = side(at.x, half_w, edge), ey = side(at.y, half_h, edge);
        if (ex != 0 || ey != 0) return {i, Grip::Part::Edge, ex, ex != 0 ? 0 : ey};
        if (std::abs(at.x) < half_w && std::abs(at.y) < half_h) return {i, Grip::Part::Inside, 0, 0};
    }
    return {};
}

Dragged drawn(cv::Point2d from, cv::Point2d to, const Snapping& s) {
    Dragged out;
    const auto at = [&](double value, double most, const std::vector<double>& lines, std::vector<double>& used) {
        return std::clamp(snapped(std::clamp(value, 0.0, most), lines, s.reach_mm, used), 0.0, most);
    };
    std::vector<double> ignored;
    const double x0 = at(from.x, s.glass.width, s.guides.x_mm, ignored),
                 y0 = at(from.y, s.glass.height, s.guides.y_mm, ignored),
                 x1 = at(to.x, s.glass.width, s.guides.x_mm, out.guides_x),
                 y1 = at(to.y, s.glass.height, s.guides.y_mm, out.guides_y);
    out.at = {(x0 + x1) / 2, (y0 + y1) / 2, std::abs(x1 - x0), std::abs(y1 - y0), 0};
    return out;
}

Dragged dragged(const Region& start, const Grip& grip, cv::Point2d from, cv::Point2d to, const Snapping& snapping) {
    switch (grip.part) {
    case Grip::Part::Corner:
    case Grip::Part::Edge:
        return resized(start, grip, to - from, snapping);
    case Grip::Part::Inside:
        return moved(start, to - from, snapping);
    case Grip::Part::Bar:
        return turned_to(start, to, snapping);
    case Grip::Part::None:
        break;
    }
    return {start, {}, {}};
}

}
