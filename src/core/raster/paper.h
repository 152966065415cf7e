// Standard sizes of paper. Pure functions.
#pragma once

#include "core/raster/units.h"

#include <optional>
#include <span>
#include <string_view>

namespace yelvin {

struct PaperSize {
    std::string_view name; // in tickets and on the screen
    SizeMm size;           // in portrait
};

// ISO 216:2007 (A and B series), ANSI/ASME Y14.1 and the customary Letter, Legal and Statement, ISO/IEC 7810 ID-1,
// and the till roll of 80 mm (common practice, no source).
std::span<const PaperSize> paper_sizes();

// Finds a size by its name, regardless of case.
std::optional<PaperSize> find_paper(std::string_view name);

// Returns the nearest standard size, portrait or landscape, that is within `tolerance_mm` of `size` in both directions.
std::optional<PaperSize> nearest_paper(SizeMm size, double tolerance_mm = 2.0);

}
