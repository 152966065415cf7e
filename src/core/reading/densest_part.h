// Where on a page the text is.
#pragma once

#include "core/raster/raster.h"

namespace yelvin {

// The `height_mm` of an upright page where the most strokes are crossed, at its full width: where the text is, not
// where a picture is. Grey or black pages; the dots are shared with `page`.
Raster densest_part(const Raster& page, double height_mm);

}
