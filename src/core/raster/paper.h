// The sizes paper comes in, with the standards they are from.
#pragma once

#include "core/raster/units.h"

#include <optional>
#include <span>
#include <string_view>

namespace yelvin {

struct PaperSize {
    std::string_view name; // as written in tickets and on screen
    SizeMm size;           // upright
};

// ISO 216:2007 (A and B series), ANSI/ASME Y14.1 and the customary Letter, Legal and Statement, ISO/IEC 7810 ID-1,
// and the till roll of 80 mm (common practice, no source).
std::span<const PaperSize> paper_sizes();

std::optional<PaperSize> find_paper(std::string_view name); // letter case does not matter

// The standard size within `tolerance_mm` of `size` in both directions, lying either way; the nearest one.
std::optional<PaperSize> nearest_paper(SizeMm size, double tolerance_mm = 2.0);

}
