#include "core/page/notice.h"

#include <opencv2/imgproc.hpp>

#include <array>

namespace yelvin {

std::string_view kind_word(PageKind kind) {
    constexpr std::array<std::string_view, 3> words{"text", "photo", "mixed"};
    return words[static_cast<size_t>(kind)];
}

namespace {

// The share of the marked page that lies in marks, a rim of 3 mm left out: there lie the shadows of the paper's edge.
double ink_percent(const Marks& marks) {
    const int rim = static_cast<int>(mm_to_px(3, marks.dpi));
    if (marks.mask.cols <= 4 * rim || marks.mask.rows <= 4 * rim)
        return 100.0 * cv::countNonZero(marks.mask) / static_cast<double>(marks.mask.total());
    const cv::Mat inner = marks.mask(cv::Rect(rim, rim, marks.mask.cols - 2 * rim, marks.mask.rows - 2 * rim));
    return 100.0 * cv::countNonZero(inner) / static_cast<double>(inner.total());
}

}

Notices notice(const Raster& original) {
    const Raster work = at_resolution(original, 200);
    const Marks marks = find_marks(work);
    Notices out;
    out.ink_percent = ink_percent(marks);
    out.letters = static_cast<int>(letters(marks).boxes.size());
    out.writing = out.letters >= 2 && marks.paper - marks.print > 24;
    out.ink = ink_need(work, marks);
    out.regions = find_regions(original);
    if (const auto text = text_tilt(work)) {
        out.tilt_degrees = text->degrees;
        out.tilt_by_text = true;
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
    if (wanted.ink)
        recipe.ink = *wanted.ink > original.ink ? wanted.ink : std::nullopt;
    else if (original.ink == Ink::Colour && notices.ink.least != Ink::Colour)
        recipe.ink = Ink::Grey;
    return recipe;
}

}
