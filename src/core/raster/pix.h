// Conversion between Raster and Leptonica's PIX. Internal to core.
#pragma once

#include "core/raster/raster.h"

#include <leptonica/allheaders.h>

#include <memory>

namespace yelvin {

struct PixDestroyer {
    void operator()(PIX* pix) const { pixDestroy(&pix); }
};
using PixPtr = std::unique_ptr<PIX, PixDestroyer>;

PixPtr to_pix(const Raster& raster);   // 32 bit for colour, 8 for grey, 1 for black; carries the resolution
Raster from_pix(PIX* pix, double dpi); // any depth, with or without colour map; transparency becomes white paper

}
