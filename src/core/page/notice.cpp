#include "core/page/notice.h"

#include "core/page/traces.h"

#include <opencv2/imgproc.hpp>

#include <array>

namespace yelvin {

std::string_view kind_word(PageKind kind) {
    constexpr std::array<std::string_view, 3> words{"text", "photo", "mixed"};
    return words[static_cast<size_t>(kind)];
}

namespace {

constexpr double edge_mm = 0.4;

}

Notices notice(const Raster& original, Items items) {
    const Raster work = at_resolution(original, 200);
    const Marks marks = find_marks(work);
    Notices out;
    const Traces traces = find_traces(marks);
    out.ink_percent = traces.ink_percent;
    out.letters = static_cast<int>(letters(marks).boxes.size());
    out.writing = traces.crisp > 0;
    out.ink = ink_need(work, marks);
    if (items == Items::Find) out.regions = find_regions(original);
    if (const auto text = text_tilt(work)) {
        out.tilt_degrees = text->degrees;
        out.tilt_by_text = true;
        out.lines_across = text->across;
    } else if (out.regions.size() == 1) {
        const Region& item = out.regions.front();
        const SizeMm page = original.size_mm();
        const bool fills = item.w_mm > page.width - 4 && item.h_mm > page.height - 4;
        if (!fills && std::abs(item.angle_degrees) < 15) out.tilt_degrees = item.angle_degrees;
    }
    const bool many_letters = out.letters >= 60 || (out.tilt_by_text && out.letters >= 20);
    out.kind = out.ink.tone_percent < 4 ? PageKind::Text : many_letters ? PageKind::Mixed : PageKind::Photo;
    return out;
}

Recipe recipe_from(const Notices& notices, const Raster& original, const Applied& wanted) {
    Recipe recipe;
    if (wanted.turn_upright) recipe.turn_degrees = notices.turn_degrees.value_or(0);
    if (wanted.straighten && std::abs(notices.tilt_degrees.value_or(0)) >= least_tilt_degrees)
        recipe.tilt_degrees = *notices.tilt_degrees;
    if (notices.sheet) {
        const Region& sheet = *notices.sheet;
        // Not straightened, the page shows all of a crooked sheet; straightened, it ends a little inside the edges, so
        // that nothing of the roller is left where text and edges disagree by a fraction of a degree.
        const double angle = (recipe.tilt_degrees - sheet.angle_degrees) * CV_PI / 180, s = std::abs(std::sin(angle)),
                     c = std::abs(std::cos(angle));
        double width = sheet.w_mm * c + sheet.h_mm * s, height = sheet.h_mm * c + sheet.w_mm * s;
        if (recipe.tilt_degrees != 0) {
            width = std::max(10.0, sheet.w_mm - sheet.h_mm * s - edge_mm);
            height = std::max(10.0, sheet.h_mm - sheet.w_mm * s - edge_mm);
        }
        const SizeMm all = original.size_mm();
        const int turn = recipe.turn_degrees;
        recipe.turn_degrees = 0;
        const double left = std::max(0.0, sheet.x_mm - width / 2), top = std::max(0.0, sheet.y_mm - height / 2);
        recipe.crop = RectMm{left, top, std::min(all.width, sheet.x_mm + width / 2) - left,
                             std::min(all.height, sheet.y_mm + height / 2) - top};
        recipe = turned(recipe, turn / 90, all);
    }
    if (wanted.ink)
        recipe.ink = *wanted.ink > original.ink ? wanted.ink : std::nullopt;
    else if (original.ink == Ink::Colour && notices.ink.least != Ink::Colour)
        recipe.ink = Ink::Grey;
    return recipe;
}

}
