#include "core/seeing/regions.h"

#include "core/raster/paper.h"
#include "core/seeing/lid.h"
#include "core/seeing/region_edges.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <numbers>

namespace yelvin {

namespace {

constexpr double work_dpi = 100, fine_dpi = 300, least_side_mm = 12;

cv::Mat ellipse(double mm, double dpi) {
    const int side = 2 * std::max(1, static_cast<int>(std::lround(mm_to_px(mm, dpi) / 2))) + 1;
    return cv::getStructuringElement(cv::MORPH_ELLIPSE, {side, side});
}

// The smallest difference from the lid that counts. The grain is averaged over nine pixels, and a lid is never quite
// uniform.
double least_off(const Lid& lid) { return std::max(2.4, 1.7 * lid.grain); }

Region upright(Region region) {
    while (region.angle_degrees > 45) {
        region.angle_degrees -= 90;
        std::swap(region.w_mm, region.h_mm);
    }
    while (region.angle_degrees < -45) {
        region.angle_degrees += 90;
        std::swap(region.w_mm, region.h_mm);
    }
    return region;
}

// Removes bars along a side of the picture that are no items: the edge of the lid and the surround of the glass.
void clear_rim_bars(cv::Mat& mask, double dpi) {
    const int most = static_cast<int>(mm_to_px(9, dpi));
    for (int side = 0; side < 4; ++side) {
        cv::Mat turned;
        if (side % 2 == 0)
            turned = mask;
        else
            cv::transpose(mask, turned);
        const int lines = std::min(most + 1, turned.rows / 4);
        const auto line = [&](int i) { return turned.row(side < 2 ? i : turned.rows - 1 - i); };
        int thick = 0;
        while (thick < lines && cv::countNonZero(line(thick)) > 0.93 * turned.cols) ++thick;
        if (thick == 0 || thick > most) continue;
        for (int i = 0; i < std::min(turned.rows, thick + 2); ++i) line(i).setTo(0);
        if (side % 2 == 1) cv::transpose(turned, mask);
    }
}

// Returns a mask of the items: everything that differs from the lid, with holes filled.
cv::Mat items_mask(const cv::Mat& off, double dpi, double least) {
    cv::Mat mask;
    cv::threshold(off, mask, least, 255, cv::THRESH_BINARY);
    mask.convertTo(mask, CV_8U);
    clear_rim_bars(mask, dpi);
    cv::Mat around;
    cv::copyMakeBorder(mask, around, 1, 1, 1, 1, cv::BORDER_CONSTANT, cv::Scalar::all(0));
    cv::floodFill(around, {0, 0}, cv::Scalar::all(128), nullptr, {}, {}, 4);
    cv::Mat filled = around(cv::Rect(1, 1, mask.cols, mask.rows)) != 128;
    // Dust, hairs and thin shadows between items are removed.
    cv::morphologyEx(filled, filled, cv::MORPH_OPEN, ellipse(1.2, dpi));
    return filled;
}

// A hair or a speck at an item must not enlarge it: the sides are moved inwards until a tenth of their length touches
// the item.
Region without_bristles(const cv::Mat& own, double dpi, Region r) {
    const double scale = dpi / mm_per_inch, a = r.angle_degrees * std::numbers::pi / 180, c = std::cos(a),
                 s = std::sin(a);
    const int w = std::max(4, static_cast<int>(r.w_mm * scale)), h = std::max(4, static_cast<int>(r.h_mm * scale));
    const cv::Matx23d map{c, -s, r.x_mm * scale - (c * w - s * h) / 2, s, c, r.y_mm * scale - (s * w + c * h) / 2};
    cv::Mat level, rows, columns;
    cv::warpAffine(own, level, map, {w, h}, cv::INTER_NEAREST | cv::WARP_INVERSE_MAP);
    cv::reduce(level, rows, 1, cv::REDUCE_AVG, CV_32F);
    cv::reduce(level, columns, 0, cv::REDUCE_AVG, CV_32F);
    const auto filled = [](const cv::Mat& line, int i) { return line.at<float>(i) > 25; };
    int left = 0, right = w, top = 0, bottom = h;
    while (left < w / 3 && !filled(columns, left)) ++left;
    while (right > 2 * w / 3 && !filled(columns, right - 1)) --right;
    while (top < h / 3 && !filled(rows, top)) ++top;
    while (bottom > 2 * h / 3 && !filled(rows, bottom - 1)) --bottom;
    const double x = ((left + right) - w) / 2.0 / scale, y = ((top + bottom) - h) / 2.0 / scale;
    return {r.x_mm + x * c - y * s, r.y_mm + x * s + y * c, (right - left) / scale, (bottom - top) / scale,
            r.angle_degrees};
}

// Candidate rectangles for an outline: the smallest one around it, and those along its longest straight stretches, for
// outlines with a missing corner.
std::vector<Region> guesses(const std::vector<cv::Point>& outline, double dpi) {
    std::vector<cv::Point> hull;
    cv::convexHull(outline, hull);
    const cv::RotatedRect least = cv::minAreaRect(hull);
    std::vector<double> angles{least.angle};
    std::vector<std::pair<double, double>> stretches; // length, angle
    std::vector<cv::Point> corners;
    cv::approxPolyDP(hull, corners, mm_to_px(0.5, dpi), true);
    for (size_t i = 0; i < corners.size(); ++i) {
        const cv::Point by = corners[(i + 1) % corners.size()] - corners[i];
        stretches.emplace_back(std::hypot(by.x, by.y), std::atan2(by.y, by.x) * 180 / std::numbers::pi);
    }
    std::ranges::sort(stretches, std::greater{});
    for (size_t i = 0; i < std::min<size_t>(3, stretches.size()); ++i) angles.push_back(stretches[i].second);
    std::vector<Region> out;
    for (const double angle : angles) {
        const double a = angle * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
        double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
        for (const cv::Point& p : hull) {
            const double u = p.x * c + p.y * s, v = -p.x * s + p.y * c;
            left = std::min(left, u);
            right = std::max(right, u);
            top = std::min(top, v);
            bottom = std::max(bottom, v);
        }
        const double u = (left + right) / 2, v = (top + bottom) / 2;
        out.push_back(upright({px_to_mm(u * c - v * s + 0.5, dpi), px_to_mm(u * s + v * c + 0.5, dpi),
                               px_to_mm(right - left + 1, dpi), px_to_mm(bottom - top + 1, dpi), angle}));
    }
    return out;
}

std::vector<Region> found_on(const Raster& small, const Lid& lid) {
    const double dpi = small.dpi, least = least_off(lid);
    const cv::Mat off = smooth_off_lid(small, lid, {0, 0, small.width_px(), small.height_px()});
    const cv::Mat mask = items_mask(off, dpi, least);
    std::vector<std::vector<cv::Point>> outlines;
    cv::findContours(mask, outlines, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
    std::vector<Region> out;
    for (size_t i = 0; i < outlines.size(); ++i) {
        const cv::RotatedRect box = cv::minAreaRect(outlines[i]);
        if (px_to_mm(std::min(box.size.width, box.size.height), dpi) < least_side_mm) continue;
        // Only this item's pixels and the lid around it are used, because other items may be close.
        const int reach = static_cast<int>(mm_to_px(4, dpi));
        const cv::Rect room =
            (cv::boundingRect(outlines[i]) + cv::Size(2 * reach, 2 * reach) - cv::Point(reach, reach)) &
            cv::Rect(0, 0, off.cols, off.rows);
        cv::Mat others(room.size(), CV_8UC1, cv::Scalar(0)), own = others.clone(), mine;
        mask(room).copyTo(others);
        cv::drawContours(own, outlines, static_cast<int>(i), cv::Scalar::all(255), cv::FILLED, cv::LINE_8,
                         cv::noArray(), 0, -room.tl());
        others.setTo(0, own);
        cv::dilate(others, others, ellipse(1.6, dpi));
        off(room).copyTo(mine);
        mine.setTo(0, others);
        FittedRegion best;
        double best_score = -1;
        for (Region guess : guesses(outlines[i], dpi)) {
            guess.x_mm -= px_to_mm(room.x, dpi);
            guess.y_mm -= px_to_mm(room.y, dpi);
            FittedRegion fitted = fit_edges(mine, dpi, without_bristles(own, dpi, guess), 3, least);
            fitted = fit_edges(mine, dpi, fitted.region, 1.5, least);
            if (fitted.seen() > best_score) {
                best_score = fitted.seen();
                best = fitted;
            }
        }
        best.region.x_mm += px_to_mm(room.x, dpi);
        best.region.y_mm += px_to_mm(room.y, dpi);
        const double area = best.region.w_mm * best.region.h_mm;
        const double filled = cv::contourArea(outlines[i]) * std::pow(mm_per_inch / dpi, 2) / area;
        const auto edges = std::ranges::count_if(best.support, [](double s) { return s > 0.5; });
        if (std::min(best.region.w_mm, best.region.h_mm) < least_side_mm || edges < 2 || filled < 0.5) continue;
        out.push_back(upright(best.region));
    }
    return out;
}

bool covers_most(const std::vector<Region>& regions, SizeMm glass, double share) {
    return regions.size() == 1 && regions.front().w_mm * regions.front().h_mm > share * glass.width * glass.height;
}

// One sheet of paper that takes up most of the glass.
bool is_sheet(const std::vector<Region>& regions, SizeMm glass) {
    return covers_most(regions, glass, 0.6) && nearest_paper({regions.front().w_mm, regions.front().h_mm});
}

Region refined(const Raster& fine, const std::vector<Lid>& lids, const Region& region, double reach_mm) {
    const RectMm box = hull_of({region});
    const double beyond = reach_mm + 1.5;
    const auto px = [&](double mm) { return static_cast<int>(mm_to_px(mm, fine.dpi)); };
    const int left = std::clamp(px(box.x - beyond), 0, fine.width_px() - 1),
              top = std::clamp(px(box.y - beyond), 0, fine.height_px() - 1),
              right = std::clamp(px(box.x + box.width + beyond), left + 1, fine.width_px()),
              bottom = std::clamp(px(box.y + box.height + beyond), top + 1, fine.height_px());
    Region best = region, here = region;
    here.x_mm -= px_to_mm(left, fine.dpi);
    here.y_mm -= px_to_mm(top, fine.dpi);
    double best_seen = 0.3;
    for (const Lid& lid : lids) {
        const cv::Mat off = smooth_off_lid(fine, lid, {left, top, right - left, bottom - top});
        FittedRegion fitted = fit_edges(off, fine.dpi, here, reach_mm, least_off(lid));
        // The position is kept unless the edge was found near it.
        const bool same = std::abs(fitted.region.w_mm - region.w_mm) < 2 * reach_mm &&
                          std::abs(fitted.region.h_mm - region.h_mm) < 2 * reach_mm &&
                          std::abs(fitted.region.angle_degrees - region.angle_degrees) < 2;
        if (!same || fitted.seen() <= best_seen) continue;
        best_seen = fitted.seen();
        best = fitted.region;
        best.x_mm += px_to_mm(left, fine.dpi);
        best.y_mm += px_to_mm(top, fine.dpi);
    }
    return best;
}

}

std::vector<Region> find_regions(const Raster& raster) {
    const Raster small = at_resolution(raster, work_dpi);
    if (std::min(small.width_px(), small.height_px()) < 40) return {};
    const std::vector<Lid> lids = lids_at_rim(small);
    std::vector<Region> best;
    for (const Lid& lid : lids) {
        std::vector<Region> found = found_on(small, lid);
        if (found.empty()) continue;
        // The lid is what most of the rim shows, unless a sheet lies against the corner and covers nearly all of it.
        // Something that fills the whole picture without being a sheet is the lid itself, seen inside the surround of
        // the glass.
        const bool whole = covers_most(best, small.size_mm(), 0.8) && !is_sheet(best, small.size_mm());
        if (best.empty() || whole || is_sheet(found, small.size_mm())) best = std::move(found);
    }
    if (raster.dpi > 1.3 * work_dpi) {
        const Raster fine = at_resolution(raster, fine_dpi);
        for (Region& region : best) region = refined(fine, lids, region, 1.0);
    }
    return in_rows(std::move(best));
}

std::vector<Region> in_rows(std::vector<Region> regions) {
    std::ranges::sort(regions, {}, [](const Region& r) { return std::pair(r.y_mm, r.x_mm); });
    std::vector<Region> out;
    while (!regions.empty()) {
        const Region first = regions.front();
        const auto rest = std::ranges::stable_partition(
            regions, [&](const Region& r) { return r.y_mm - first.y_mm <= std::min(first.h_mm, r.h_mm) / 2; });
        const auto row_end = rest.begin();
        std::sort(regions.begin(), row_end, [](const Region& a, const Region& b) {
            return std::pair(a.x_mm, a.y_mm) < std::pair(b.x_mm, b.y_mm);
        });
        out.insert(out.end(), regions.begin(), row_end);
        regions.erase(regions.begin(), row_end);
    }
    return out;
}

Region refined_region(const Raster& raster, const Region& region, double reach_mm) {
    return refined(at_resolution(raster, fine_dpi), lids_at_rim(at_resolution(raster, work_dpi)), region, reach_mm);
}

RectMm hull_of(const std::vector<Region>& regions) {
    double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
    for (const Region& r : regions) {
        const double a = r.angle_degrees * std::numbers::pi / 180, c = std::abs(std::cos(a)), s = std::abs(std::sin(a));
        const double w = (r.w_mm * c + r.h_mm * s) / 2, h = (r.h_mm * c + r.w_mm * s) / 2;
        left = std::min(left, r.x_mm - w);
        right = std::max(right, r.x_mm + w);
        top = std::min(top, r.y_mm - h);
        bottom = std::max(bottom, r.y_mm + h);
    }
    return regions.empty() ? RectMm{} : RectMm{left, top, right - left, bottom - top};
}

}
