// Where finished pages come on the sheets of a printer.
#pragma once

#include "core/error.h"
#include "core/raster/units.h"
#include "core/ticket/ticket.h"

#include <string>
#include <vector>

namespace yelvin {

struct PrintedPage {
    size_t page = 0;     // of those given
    RectMm place;        // on the sheet, y downwards; of the page as it is printed
    bool turned = false; // a quarter turn clockwise, so that it fits
};
using PrintedSide = std::vector<PrintedPage>; // of a sheet

struct PrintLayout {
    std::vector<PrintedSide> sides;
    bool reaches_over = false; // at true size some page is larger than what the printer reaches
    int sheets(bool both_sides) const {
        const auto count = static_cast<int>(sides.size());
        return both_sides ? (count + 1) / 2 : count;
    }
};

// `pages`: their sizes. `margin_mm`: what the printer cannot reach along each edge. At true size a page lies in the
// middle, turned where only so it fits; fitted it is as large as the reach allows. Two on a sheet lie side by side on
// its longer side, fitted, at true size no larger than they are.
PrintLayout print_layout(const std::vector<SizeMm>& pages, SizeMm sheet, double margin_mm, const PrintHow& how);

// "1-3, 7" of so many pages, from 0, in the order that is written; empty: all. BadInput where it is no such list.
Result<std::vector<size_t>> pages_to_print(const std::string& numbers, size_t count);

}
