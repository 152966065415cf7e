// The places of finished pages on the sheets of a printer. Pure functions.
#pragma once

#include "core/error.h"
#include "core/raster/units.h"
#include "core/ticket/ticket.h"

#include <string>
#include <vector>

namespace yelvin {

struct PrintedPage {
    size_t page = 0;     // index of the page
    RectMm place;        // on the sheet, y downwards, after turning
    bool turned = false; // whether it is turned by 90 degrees clockwise to fit
};
using PrintedSide = std::vector<PrintedPage>; // one side of a sheet

struct PrintLayout {
    std::vector<PrintedSide> sides;
    bool reaches_over = false; // whether a page at true size is larger than the printable area
    int sheets(bool both_sides) const {
        const auto count = static_cast<int>(sides.size());
        return both_sides ? (count + 1) / 2 : count;
    }
};

// Places pages of the given sizes. `margin_mm` is the width along each edge that the printer cannot reach. At true size
// a page is centred, and turned if it fits only so; fitted, it is as large as the printable area allows. Two on a sheet
// are side by side along its longer side, scaled to fit and never enlarged at true size.
PrintLayout print_layout(const std::vector<SizeMm>& pages, SizeMm sheet, double margin_mm, const PrintHow& how);

// Parses a list of pages such as "1-3, 7" into indices from 0, in the order written; an empty text means all `count`
// pages. Errors: BadInput if it is not such a list.
Result<std::vector<size_t>> pages_to_print(const std::string& numbers, size_t count);

}
