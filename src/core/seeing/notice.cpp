#include "core/seeing/notice.h"

#include "core/raster/paper.h"
#include "core/seeing/corners.h"
#include "core/seeing/frame.h"
#include "core/seeing/own_print.h"
#include "core/seeing/red_eyes.h"
#include "core/seeing/show_through.h"
#include "core/seeing/traces.h"

#include <opencv2/imgproc.hpp>

#include <array>

namespace yelvin {

std::string_view kind_word(PageKind kind) {
    constexpr std::array<std::string_view, 3> words{"text", "photo", "mixed"};
    return words[static_cast<size_t>(kind)];
}

namespace {

constexpr double edge_mm = 0.4;
constexpr double looked_at_dpi = 200;

// Returns the corners of a sheet that was photographed at an angle: they do not form a rectangle.
std::optional<Corners> seen_askew(const Raster& raster) {
    const auto corners = find_corners(raster);
    if (!corners) return std::nullopt;
    // A page that fills the picture may have shadows along its edges. A photograph of a sheet shows its surroundings as
    // well.
    const SizeMm all = raster.size_mm();
    constexpr double rim_share = 0.015;
    for (const PointMm& corner : *corners) {
        const double rim = rim_share * std::max(all.width, all.height);
        if (corner.x < rim || corner.y < rim || corner.x > all.width - rim || corner.y > all.height - rim)
            return std::nullopt;
    }
    double worst = 0;
    for (size_t i = 0; i < 4; ++i) {
        const PointMm &a = (*corners)[(i + 3) % 4], &b = (*corners)[i], &c = (*corners)[(i + 1) % 4];
        const cv::Point2d p(a.x - b.x, a.y - b.y), q(c.x - b.x, c.y - b.y);
        worst = std::max(worst, std::abs(p.dot(q)) / (cv::norm(p) * cv::norm(q)));
    }
    constexpr double clearly = 0.025; // the sine of 1.4 degrees
    return worst > clearly ? corners : std::nullopt;
}

}

namespace {

bool is_too_small_to_see(const Raster& page) {
    constexpr double least_mm = 2;
    const SizeMm size = page.size_mm();
    return std::min(size.width, size.height) < least_mm;
}

// Returns the result for a page that cannot be analysed: it keeps its colour mode and is not blank.
Notices of_unseen(const Raster& page) {
    Notices out;
    out.writing = true;
    out.ink_percent = 100;
    out.ink.least = page.ink;
    return out;
}

void take(Notices& notices, const Traces& traces) {
    notices.ink_percent = traces.ink_percent;
    notices.writing = traces.crisp > 0;
    notices.in_doubt = traces.in_doubt;
}

}

void look_through(Notices& notices, const Raster& side, const Raster& other) {
    notices.in_doubt = false; // The other side is compared only once, whatever comes out.
    if (is_too_small_to_see(side) || is_too_small_to_see(other)) return;
    const Marks marks = find_marks(at_resolution(side, looked_at_dpi));
    const cv::Mat1b behind = print_from_behind(marks, find_marks(at_resolution(other, looked_at_dpi)));
    if (!behind.empty()) take(notices, find_traces(marks, behind));
    notices.in_doubt = false;
}

Notices notice(const Raster& original, Items items) {
    if (is_too_small_to_see(original)) return of_unseen(original);
    const Raster work = at_resolution(original, looked_at_dpi);
    const Marks marks = find_marks(work);
    Notices out;
    take(out, find_traces(marks));
    const Letters letters = yelvin::letters(marks);
    out.letters = static_cast<int>(letters.boxes.size());
    out.ink = ink_need(work, marks);
    if (items == Items::Find) out.regions = find_regions(original);
    const bool covered = out.ink.tone_percent >= 4 || out.ink.solid_percent >= 30;
    const OwnPrint print = own_print(work, marks, letters, covered);
    out.letters = print.letters;
    if (print.tilt) {
        out.tilt_degrees = print.tilt->degrees;
        out.tilt_by_text = true;
        out.lines_across = print.tilt->across;
    } else if (out.regions.size() == 1) {
        const Region& item = out.regions.front();
        const SizeMm page = original.size_mm();
        const bool fills = item.w_mm > page.width - 4 && item.h_mm > page.height - 4;
        if (!fills && std::abs(item.angle_degrees) < 15) out.tilt_degrees = item.angle_degrees;
    }
    out.blemishes = find_blemishes(work, marks, letters);
    out.kind = !covered ? PageKind::Text : print.is_text ? PageKind::Mixed : PageKind::Photo;
    // Photographs have edges, lighting and depth of their own, which are not faults.
    if (out.kind == PageKind::Photo) out.blemishes = {};
    if (covered) {
        out.blemishes.screen_lpi = screen_of(original);
        out.red_eyes = find_red_eyes(work);
    }
    if (items == Items::Find) out.askew = seen_askew(work);
    return out;
}

namespace {

// The page of a frame that the user drew: straightened by its text, and also turned by it if the user did not turn it.
Recipe framed_recipe(const Notices& notices, const Raster& original, const Applied& wanted) {
    const SizeMm all = original.size_mm();
    Recipe recipe = frame_recipe(*notices.sheet, all);
    const bool up_is_said = recipe.turn_degrees != 0;
    if (wanted.straighten && notices.tilt_by_text) recipe.tilt_degrees = notices.tilt_degrees.value_or(0);
    if (std::abs(recipe.tilt_degrees) < least_tilt_degrees) recipe.tilt_degrees = 0;
    if (wanted.turn_upright && !up_is_said) recipe = turned(recipe, notices.turn_degrees.value_or(0) / 90, all);
    return recipe;
}

// A standard sheet is cropped to exactly its size. `disagreement` is the sine of the angle between its edges and its
// text.
void cut_to_paper(const Notices& notices, double disagreement, double& width, double& height, double& rim_mm) {
    const Region& sheet = *notices.sheet;
    const auto paper = find_paper(notices.paper);
    if (!paper) return;
    SizeMm size = paper->size;
    if ((size.width > size.height) != (sheet.w_mm > sheet.h_mm)) std::swap(size.width, size.height);
    const double missing = std::max({0.0, size.width - sheet.w_mm, size.height - sheet.h_mm}) / 2;
    const double rim = missing + std::max(sheet.w_mm, sheet.h_mm) * disagreement / 2 + edge_mm / 2;
    constexpr double most_rim_mm = 1.5;
    if (rim > most_rim_mm) return;
    width = size.width;
    height = size.height;
    rim_mm = rim;
}

RectMm kept_on(const RectMm& area, SizeMm page) {
    const double left = std::max(0.0, area.x), top = std::max(0.0, area.y);
    return {left, top, std::min(page.width, area.x + area.width) - left,
            std::min(page.height, area.y + area.height) - top};
}

}

Recipe recipe_from(const Notices& notices, const Raster& original, const Applied& wanted) {
    const auto inked = [&](Recipe recipe) {
        recipe.adjust = wanted.adjust;
        if (wanted.ink)
            recipe.ink = *wanted.ink > original.ink ? wanted.ink : std::nullopt;
        else if (original.ink == Ink::Colour && notices.ink.least != Ink::Colour)
            recipe.ink = Ink::Grey;
        return recipe;
    };
    if (notices.sheet && notices.framed) return inked(framed_recipe(notices, original, wanted));
    Recipe recipe;
    if (wanted.turn_upright) recipe.turn_degrees = notices.turn_degrees.value_or(0);
    if (wanted.straighten && std::abs(notices.tilt_degrees.value_or(0)) >= least_tilt_degrees)
        recipe.tilt_degrees = *notices.tilt_degrees;
    if (notices.sheet) {
        const Region& sheet = *notices.sheet;
        // Without straightening, the page shows all of a crooked sheet. With straightening, it ends slightly inside the
        // edges, so that nothing of the roller is left if text and edges differ by a fraction of a degree.
        const double angle = (recipe.tilt_degrees - sheet.angle_degrees) * CV_PI / 180, s = std::abs(std::sin(angle)),
                     c = std::abs(std::cos(angle));
        double width = sheet.w_mm * c + sheet.h_mm * s, height = sheet.h_mm * c + sheet.w_mm * s;
        if (recipe.tilt_degrees != 0) {
            width = std::max(10.0, sheet.w_mm - sheet.h_mm * s - edge_mm);
            height = std::max(10.0, sheet.h_mm - sheet.w_mm * s - edge_mm);
        }
        cut_to_paper(notices, s, width, height, recipe.rim_mm);
        const SizeMm all = original.size_mm();
        const int turn = recipe.turn_degrees;
        recipe.turn_degrees = 0;
        recipe.crop = RectMm{sheet.x_mm - width / 2, sheet.y_mm - height / 2, width, height};
        if (recipe.tilt_degrees == 0) recipe.crop = kept_on(*recipe.crop, all);
        recipe = turned(recipe, turn / 90, all);
    }
    return inked(recipe);
}

}
