#include "core/ocr/densest_part.h"

#include "core/raster/units.h"

#include <algorithm>
#include <vector>

namespace yelvin {

Raster densest_part(const Raster& page, double height_mm) {
    const int height = std::min(page.height_px(), static_cast<int>(mm_to_px(height_mm, page.dpi)));
    const int dark = std::max(1, paper_level(page.pixels) - 60);
    std::vector<int> before(1, 0); // strokes crossed by all rows above
    for (int y = 0; y < page.height_px(); ++y) {
        const uchar* row = page.pixels.ptr(y);
        int strokes = 0;
        for (int x = 1; x < page.width_px(); ++x) strokes += row[x] < dark && row[x - 1] >= dark ? 1 : 0;
        before.push_back(before.back() + strokes);
    }
    int best = 0;
    const auto crossed = [&](int top) {
        return before[static_cast<size_t>(top) + static_cast<size_t>(height)] - before[static_cast<size_t>(top)];
    };
    for (int top = 0; top + height <= page.height_px(); ++top) {
        if (crossed(top) > crossed(best)) best = top;
    }
    return {page.pixels.rowRange(best, best + height), page.dpi, page.ink};
}

}
