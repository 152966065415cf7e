#include "core/errands/print_layout.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

namespace yelvin {

namespace {

constexpr double about_mm = 0.5; // A page that is larger by this much still fits, because its margin is empty.

bool fits(SizeMm page, const RectMm& room) {
    return page.width <= room.width + about_mm && page.height <= room.height + about_mm;
}
SizeMm turned(SizeMm page) { return {page.height, page.width}; }
double largest_scale(SizeMm page, const RectMm& room) {
    return std::min(room.width / page.width, room.height / page.height);
}
RectMm in_middle(SizeMm size, const RectMm& room) {
    return {room.x + (room.width - size.width) / 2, room.y + (room.height - size.height) / 2, size.width, size.height};
}

// Places the page in the printable area. `most` is the largest allowed scale.
PrintedPage fitted(size_t number, SizeMm page, const RectMm& room, double most) {
    PrintedPage out{number, {}, false};
    const double as_it_is = std::min(most, largest_scale(page, room)),
                 on_its_side = std::min(most, largest_scale(turned(page), room));
    out.turned = on_its_side > 1.02 * as_it_is;
    const SizeMm lies = out.turned ? turned(page) : page;
    const double scale = out.turned ? on_its_side : as_it_is;
    out.place = in_middle({lies.width * scale, lies.height * scale}, room);
    return out;
}

}

PrintLayout print_layout(const std::vector<SizeMm>& pages, SizeMm sheet, double margin_mm, const PrintHow& how) {
    constexpr double as_large_as_fits = 1000;
    const RectMm whole{0, 0, sheet.width, sheet.height},
        reach{margin_mm, margin_mm, sheet.width - 2 * margin_mm, sheet.height - 2 * margin_mm};
    PrintLayout layout;
    if (how.two_on_a_sheet) {
        const bool upright = sheet.height >= sheet.width; // the halves lie one above the other, each page on its side
        const RectMm first = upright ? RectMm{reach.x, reach.y, reach.width, reach.height / 2 - margin_mm / 2}
                                     : RectMm{reach.x, reach.y, reach.width / 2 - margin_mm / 2, reach.height};
        RectMm second = first;
        (upright ? second.y : second.x) += upright ? reach.height / 2 + margin_mm / 2 : reach.width / 2 + margin_mm / 2;
        for (size_t i = 0; i < pages.size(); ++i) {
            if (i % 2 == 0) layout.sides.emplace_back();
            layout.sides.back().push_back(
                fitted(i, pages[i], i % 2 == 0 ? first : second, how.fitted ? as_large_as_fits : 1));
        }
        return layout;
    }
    for (size_t i = 0; i < pages.size(); ++i) {
        if (how.fitted) {
            layout.sides.push_back({fitted(i, pages[i], reach, as_large_as_fits)});
            continue;
        }
        const bool lies = !fits(pages[i], whole) && fits(turned(pages[i]), whole);
        const SizeMm size = lies ? turned(pages[i]) : pages[i];
        layout.sides.push_back({{i, in_middle(size, whole), lies}});
        layout.reaches_over = layout.reaches_over || !fits(size, whole);
    }
    return layout;
}

Result<std::vector<size_t>> pages_to_print(const std::string& numbers, size_t count) {
    std::vector<size_t> pages;
    const auto wrong = [&] {
        return fail(ErrorKind::BadInput,
                    fmt::format("“{}” is not a page range from 1 to {}; write it like 1-3, 7.", numbers, count));
    };
    std::string bare;
    std::ranges::copy_if(numbers, std::back_inserter(bare), [](char c) { return c != ' '; });
    if (bare.empty()) {
        for (size_t i = 0; i < count; ++i) pages.push_back(i);
        return pages;
    }
    for (const char *at = bare.data(), *end = at + bare.size(); at < end;) {
        size_t first = 0;
        auto read = std::from_chars(at, end, first);
        if (read.ec != std::errc{}) return wrong();
        size_t last = first;
        if (read.ptr < end && *read.ptr == '-') read = std::from_chars(read.ptr + 1, end, last);
        const bool more = read.ptr < end && *read.ptr == ',' && read.ptr + 1 < end;
        if (read.ec != std::errc{} || (read.ptr < end && !more) || first < 1 || last < first || last > count)
            return wrong();
        for (size_t page = first; page <= last; ++page) pages.push_back(page - 1);
        at = more ? read.ptr + 1 : end;
    }
    return pages;
}

}
