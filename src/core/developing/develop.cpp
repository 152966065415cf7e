#include "core/developing/develop.h"

#include "core/developing/resample.h"
#include "core/developing/retouch.h"
#include "core/developing/tone.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

// The colour of the paper. It fills the parts of a straightened page that lie beyond the original.
cv::Scalar paper_colour(const cv::Mat& pixels) {
    const double scale = std::min(1.0, 400.0 / std::max(pixels.cols, pixels.rows));
    cv::Mat small = scaled(pixels, scale, scale, cv::INTER_NEAREST);
    std::vector<cv::Mat> planes;
    cv::split(small, planes);
    cv::Scalar colour;
    for (size_t i = 0; i < planes.size(); ++i) colour[static_cast<int>(i)] = paper_level(planes[i]);
    return colour;
}

cv::Mat quarter_turned(const cv::Mat& pixels, int turn_degrees) {
    if (turn_degrees == 0) return pixels;
    cv::Mat out;
    cv::rotate(pixels, out,
               turn_degrees == 90    ? cv::ROTATE_90_CLOCKWISE
               : turn_degrees == 180 ? cv::ROTATE_180
                                     : cv::ROTATE_90_COUNTERCLOCKWISE);
    return out;
}

// Fills the area around `inside` with the nearest pixel of `inside`, in place.
void fill_rim(cv::Mat& pixels, const cv::Rect& inside) {
    const size_t pixel = pixels.elemSize();
    for (int y = inside.y; y < inside.br().y; ++y) {
        uchar* const row = pixels.ptr(y);
        const uchar *const first = row + static_cast<size_t>(inside.x) * pixel, *const last =
                                                                                    row + static_cast<size_t>(
                                                                                              inside.br().x - 1) *
                                                                                              pixel;
        for (int x = 0; x < inside.x; ++x) std::copy_n(first, pixel, row + static_cast<size_t>(x) * pixel);
        for (int x = inside.br().x; x < pixels.cols; ++x)
            std::copy_n(last, pixel, row + static_cast<size_t>(x) * pixel);
    }
    for (int y = 0; y < inside.y; ++y) pixels.row(inside.y).copyTo(pixels.row(y));
    for (int y = inside.br().y; y < pixels.rows; ++y) pixels.row(inside.br().y - 1).copyTo(pixels.row(y));
}

bool copies(const Recipe& recipe) { return recipe.tilt_degrees == 0 && !recipe.flatten; }

// Returns the cropped, rotated and straightened page. Its pixels are unchanged or resampled once. It may share the
// original's pixels.
Raster laid(const Raster& original, const Recipe& recipe) {
    const SizePx size{original.width_px(), original.height_px()};
    const SizePx out_size = developed_size(recipe, size, original.dpi);
    const cv::Matx33d map = page_to_original(recipe, size, original.dpi);
    Raster page{{}, original.dpi, original.ink};
    if (copies(recipe)) {
        // The original is cropped and then rotated, without interpolation.
        const cv::Vec3d a = map * cv::Vec3d(0, 0, 1), b = map * cv::Vec3d(out_size.width - 1, out_size.height - 1, 1);
        const int left = cvRound(std::min(a[0], b[0])), top = cvRound(std::min(a[1], b[1]));
        const int right = cvRound(std::max(a[0], b[0])), bottom = cvRound(std::max(a[1], b[1]));
        page.pixels = quarter_turned(original.pixels(cv::Rect(left, top, right - left + 1, bottom - top + 1)),
                                     recipe.turn_degrees);
    } else {
        page.pixels.create(out_size.height, out_size.width, original.pixels.type());
        resample(original.pixels, page.pixels, map, paper_colour(original.pixels));
        if (page.ink == Ink::Black) cv::threshold(page.pixels, page.pixels, 127, 255, cv::THRESH_BINARY);
    }
    if (const int rim = static_cast<int>(std::lround(mm_to_px(recipe.rim_mm, page.dpi)));
        rim > 0 && 4 * rim < std::min(page.width_px(), page.height_px())) {
        // Do not write into the original's pixels.
        if (page.pixels.u == original.pixels.u) page.pixels = page.pixels.clone();
        fill_rim(page.pixels, {rim, rim, page.width_px() - 2 * rim, page.height_px() - 2 * rim});
    }
    return page;
}

std::vector<Spot> on_page(const std::vector<Spot>& spots, const Recipe& recipe, SizePx original, double dpi) {
    const cv::Matx33d back = page_to_original(recipe, original, dpi).inv();
    std::vector<Spot> out;
    for (const Spot& spot : spots) {
        const cv::Vec3d at = back * cv::Vec3d(mm_to_px(spot.x_mm, dpi) - 0.5, mm_to_px(spot.y_mm, dpi) - 0.5, 1);
        out.push_back({px_to_mm(at[0] / at[2] + 0.5, dpi), px_to_mm(at[1] / at[2] + 0.5, dpi), spot.radius_mm});
    }
    return out;
}

bool needs_measure(const Recipe& recipe) {
    return changes_any(recipe.adjust, [](const AdjustField& field) { return field.needs == AdjustNeeds::Measure; });
}

bool makes_black(const Recipe& recipe, Ink ink) { return recipe.ink == Ink::Black && ink != Ink::Black; }

void retouch(cv::Mat& pixels, const Recipe& recipe, const PageMeasure& measure, const Lay& lay,
             const std::vector<Spot>& eyes) {
    const Adjust& a = recipe.adjust;
    if (a.red_eyes > 0) calm_red_eyes(pixels, eyes, lay);
    if (a.even_light > 0) even_out_light(pixels, measure, lay);
    if (a.edge_shadow > 0) lift_edge_shadows(pixels, measure, lay);
    if (a.punch_holes > 0) fill_holes(pixels, measure, lay);
    if (a.drop_colour) drop_colour(pixels, *a.drop_colour, a.drop_reach, measure);
    if (changes_tone(a)) apply_tables(pixels, tone_tables(a, measure));
}

void clean(cv::Mat& pixels, const Adjust& a, double dpi) {
    if (a.screen_lpi > 0) take_out_screen(pixels, a.screen_lpi, dpi);
    if (a.dust_mm > 0) remove_dust(pixels, a.dust_mm, dpi);
    if (a.specks_mm > 0) remove_specks(pixels, a.specks_mm, dpi);
    if (a.sharpen > 0) sharpen(pixels, a.sharpen, dpi);
}

void remove_specks_of_black(cv::Mat& pixels, double largest_mm, double dpi) {
    remove_specks(pixels, largest_mm, dpi);
    cv::threshold(pixels, pixels, 127, 255, cv::THRESH_BINARY);
}

Raster inked(Raster page, const Recipe& recipe, const PageMeasure& measure) {
    if (!recipe.ink || *recipe.ink <= page.ink) return page;
    if (*recipe.ink != Ink::Black) return with_ink(page, *recipe.ink);
    const cv::Mat grey = grey_pixels(page);
    Raster black{{}, page.dpi, Ink::Black};
    if (recipe.adjust.local_threshold > 0)
        black.pixels = locally_black(grey, static_cast<int>(std::lround(mm_to_px(local_window_mm, page.dpi))));
    else
        cv::threshold(grey, black.pixels, measure.threshold, 255, cv::THRESH_BINARY);
    return black;
}

// Computes the threshold from at most about 1.5 million evenly distributed pixels of the page.
int threshold_for(const Raster& original, const Recipe& recipe, const PageMeasure& measure) {
    if (recipe.adjust.threshold > 0) return static_cast<int>(recipe.adjust.threshold);
    const SizePx size{original.width_px(), original.height_px()}, page = developed_size(recipe, size, original.dpi);
    constexpr double enough = 1.5e6;
    const int every = std::max(1, static_cast<int>(std::sqrt(static_cast<double>(page.width) * page.height / enough)));
    cv::Mat sample((page.height + every - 1) / every, (page.width + every - 1) / every, original.pixels.type());
    const cv::Matx33d map =
        page_to_original(recipe, size, original.dpi) * cv::Matx33d(every, 0, 0, 0, every, 0, 0, 0, 1);
    resample(original.pixels, sample, map, paper_colour(original.pixels));
    retouch(sample, recipe, measure, {original.dpi / every, {}, {sample.cols, sample.rows}},
            on_page(recipe.adjust.eyes, recipe, size, original.dpi));
    return black_threshold(grey_pixels({sample, original.dpi / every, original.ink}));
}

}

Recipe measured_by(const Recipe& recipe) {
    Recipe out = geometry_of(recipe);
    const Adjust& a = recipe.adjust;
    for (const AdjustField& field : adjust_table)
        if (field.stage == AdjustStage::Paper) out.adjust.*field.value = a.*field.value;
    out.adjust.drop_colour = a.drop_colour;
    if (!a.drop_colour || a.drop_reach == 0) {
        out.adjust.drop_colour.reset();
        out.adjust.drop_reach = 0;
    }
    return out;
}

PageMeasure measured_on(const Raster& coarse, const Recipe& recipe) {
    return measure_page(laid(coarse, geometry_of(recipe)), recipe.adjust);
}

void measure_threshold(PageMeasure& measure, const Raster& original, const Recipe& recipe) {
    if (makes_black(recipe, original.ink) && recipe.adjust.local_threshold == 0)
        measure.threshold = threshold_for(original, recipe, measure);
}

PageMeasure measured(const Raster& original, const Recipe& recipe) {
    PageMeasure measure;
    if (needs_measure(recipe)) measure = measured_on(at_resolution(original, measuring_dpi), recipe);
    measure_threshold(measure, original, recipe);
    return measure;
}

Raster develop(const Raster& original, const Recipe& recipe) {
    Raster page = laid(original, recipe);
    if (recipe.adjust == Adjust{} && !makes_black(recipe, original.ink))
        return recipe.ink ? with_ink(page, *recipe.ink) : page;
    const PageMeasure measure = measured(original, recipe);
    if (original.ink != Ink::Black) {
        const SizePx size{original.width_px(), original.height_px()};
        if (page.pixels.u == original.pixels.u && recipe.adjust != Adjust{})
            page.pixels = page.pixels.clone(); // never the original's
        retouch(page.pixels, recipe, measure, {page.dpi, {}, {page.width_px(), page.height_px()}},
                on_page(recipe.adjust.eyes, recipe, size, original.dpi));
        clean(page.pixels, recipe.adjust, page.dpi);
    } else if (recipe.adjust.specks_mm > 0) {
        page.pixels = page.pixels.clone();
        remove_specks_of_black(page.pixels, recipe.adjust.specks_mm, page.dpi);
    }
    return inked(std::move(page), recipe, measure);
}

namespace {

// The plan for developing a part for the screen: the part of the page that is needed and the part of the original that
// it comes from.
struct PartPlan {
    SizePx page;             // at the scale
    cv::Rect part, seen;     // kept on the page; `seen` with the margin that filters look at
    cv::Matx33d to_original; // pixels of `seen` to those of the original
};

cv::Matx33d scale_map(double by_x, double by_y) {
    return {by_x, 0, 0.5 * by_x - 0.5, 0, by_y, 0.5 * by_y - 0.5, 0, 0, 1};
}

PartPlan plan_of(const PartWanted& wanted, const Recipe& recipe) {
    const SizePx page = developed_size(recipe, wanted.original, wanted.dpi);
    PartPlan plan;
    plan.page = {std::max(1, static_cast<int>(std::lround(page.width * wanted.scale))),
                 std::max(1, static_cast<int>(std::lround(page.height * wanted.scale)))};
    // Filters are given a margin around the part, so that its edges are the same as on the whole page.
    const bool filters =
        changes_any(recipe.adjust, [](const AdjustField& field) { return field.needs == AdjustNeeds::Neighbours; });
    const int margin = filters ? cvCeil(mm_to_px(4, wanted.dpi * wanted.scale)) : 0;
    const cv::Rect all(0, 0, plan.page.width, plan.page.height);
    plan.part = wanted.part & all;
    plan.seen = cv::Rect(plan.part.x - margin, plan.part.y - margin, plan.part.width + 2 * margin,
                         plan.part.height + 2 * margin) &
                all;
    plan.to_original = page_to_original(recipe, wanted.original, wanted.dpi) *
                       scale_map(1 / wanted.scale, 1 / wanted.scale) *
                       cv::Matx33d(1, 0, plan.seen.x, 0, 1, plan.seen.y, 0, 0, 1);
    return plan;
}

// Replaces the rim of the page by the pixels just inside it, as far as it is within the part.
void replicate_rim(cv::Mat& pixels, const PartPlan& plan, int rim) {
    const cv::Rect& seen = plan.seen;
    const int left = std::max(0, rim - seen.x), top = std::max(0, rim - seen.y),
              right = std::max(0, seen.br().x - (plan.page.width - rim)),
              bottom = std::max(0, seen.br().y - (plan.page.height - rim));
    const cv::Rect inside(left, top, seen.width - left - right, seen.height - top - bottom);
    if (inside.width > 0 && inside.height > 0) fill_rim(pixels, inside);
}

}

cv::Rect original_part(const PartWanted& wanted, const Recipe& recipe) {
    const PartPlan plan = plan_of(wanted, recipe);
    double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
    for (const auto& [x, y] :
         {std::pair(0, 0), {plan.seen.width, 0}, {0, plan.seen.height}, {plan.seen.width, plan.seen.height}}) {
        const cv::Vec3d at = plan.to_original * cv::Vec3d(x, y, 1);
        left = std::min(left, at[0] / at[2]);
        right = std::max(right, at[0] / at[2]);
        top = std::min(top, at[1] / at[2]);
        bottom = std::max(bottom, at[1] / at[2]);
    }
    constexpr int margin = 4; // the kernel's reach
    const cv::Rect all(0, 0, wanted.original.width, wanted.original.height);
    return cv::Rect(cv::Point(cvFloor(left) - margin, cvFloor(top) - margin),
                    cv::Point(cvCeil(right) + margin, cvCeil(bottom) + margin)) &
           all;
}

Raster develop_part(const Raster& level, const PartWanted& wanted, const Recipe& recipe, const PageMeasure& measure) {
    const double dpi = wanted.dpi * wanted.scale;
    const PartPlan plan = plan_of(wanted, recipe);
    Raster out{{}, dpi, level.ink};
    if (plan.part.empty()) return out;
    const bool all = wanted.level_scale.x == 0;
    const double by_x = all ? static_cast<double>(level.width_px()) / wanted.original.width : wanted.level_scale.x,
                 by_y = all ? static_cast<double>(level.height_px()) / wanted.original.height : wanted.level_scale.y;
    const cv::Matx33d map = cv::Matx33d(1, 0, -wanted.level_origin.x, 0, 1, -wanted.level_origin.y, 0, 0, 1) *
                            scale_map(by_x, by_y) * plan.to_original;
    out.pixels.create(plan.seen.size(), level.pixels.type());
    resample(level.pixels, out.pixels, map, paper_colour(level.pixels));
    if (level.ink == Ink::Black) cv::threshold(out.pixels, out.pixels, 127, 255, cv::THRESH_BINARY);
    if (const int rim = static_cast<int>(std::lround(mm_to_px(recipe.rim_mm, dpi))); rim > 0)
        replicate_rim(out.pixels, plan, rim);
    if (level.ink != Ink::Black) {
        retouch(out.pixels, recipe, measure, {dpi, plan.seen.tl(), plan.page},
                on_page(recipe.adjust.eyes, recipe, wanted.original, wanted.dpi));
        clean(out.pixels, recipe.adjust, dpi);
    } else if (recipe.adjust.specks_mm > 0) {
        remove_specks_of_black(out.pixels, recipe.adjust.specks_mm, dpi);
    }
    out.pixels = out.pixels(cv::Rect(plan.part.tl() - plan.seen.tl(), plan.part.size()));
    return inked(std::move(out), recipe, measure);
}

}
