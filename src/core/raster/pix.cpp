#include "core/raster/pix.h"

#include <cmath>

namespace yelvin {

PixPtr to_pix(const Raster& raster) {
    const int depth = raster.ink == Ink::Colour ? 32 : raster.ink == Ink::Grey ? 8 : 1;
    PixPtr pix{pixCreate(raster.width_px(), raster.height_px(), depth)};
    if (!pix) return pix;
    const int dpi = static_cast<int>(std::lround(raster.dpi));
    pixSetResolution(pix.get(), dpi, dpi);
    const int words = pixGetWpl(pix.get());
    for (int y = 0; y < raster.height_px(); ++y) {
        l_uint32* line = pixGetData(pix.get()) + static_cast<ptrdiff_t>(y) * words;
        const uchar* row = raster.pixels.ptr(y);
        for (int x = 0; x < raster.width_px(); ++x) {
            if (depth == 32) {
                const uchar* p = row + 3 * x;
                line[x] = static_cast<l_uint32>(p[2]) << 24 | static_cast<l_uint32>(p[1]) << 16 |
                          static_cast<l_uint32>(p[0]) << 8;
            } else if (depth == 8) {
                SET_DATA_BYTE(line, x, row[x]);
            } else if (row[x] < 128) {
                SET_DATA_BIT(line, x);
            }
        }
    }
    return pix;
}

namespace {
// Converts any PIX to 1, 8 or 32 bits without a colour map.
PixPtr plain(PIX* pix) {
    PixPtr out{pixGetColormap(pix) ? pixRemoveColormap(pix, REMOVE_CMAP_BASED_ON_SRC) : pixClone(pix)};
    const int depth = out ? pixGetDepth(out.get()) : 0;
    if (depth == 2 || depth == 4 || depth == 16) out.reset(pixConvertTo8(out.get(), 0));
    if (out && depth == 32 && pixGetSpp(out.get()) == 4) out.reset(pixAlphaBlendUniform(out.get(), 0xffffff00));
    return out;
}
}

Raster from_pix(PIX* source, double dpi) {
    const PixPtr pix = plain(source);
    if (!pix) return {};
    const int depth = pixGetDepth(pix.get());
    const int width = pixGetWidth(pix.get()), height = pixGetHeight(pix.get()), words = pixGetWpl(pix.get());
    Raster out{cv::Mat(height, width, depth == 32 ? CV_8UC3 : CV_8UC1), dpi,
               depth == 32  ? Ink::Colour
               : depth == 8 ? Ink::Grey
                            : Ink::Black};
    for (int y = 0; y < height; ++y) {
        const l_uint32* line = pixGetData(pix.get()) + static_cast<ptrdiff_t>(y) * words;
        uchar* row = out.pixels.ptr(y);
        for (int x = 0; x < width; ++x) {
            if (depth == 32) {
                row[3 * x] = static_cast<uchar>(line[x] >> 8);
                row[3 * x + 1] = static_cast<uchar>(line[x] >> 16);
                row[3 * x + 2] = static_cast<uchar>(line[x] >> 24);
            } else if (depth == 8) {
                row[x] = static_cast<uchar>(GET_DATA_BYTE(line, x));
            } else {
                row[x] = GET_DATA_BIT(line, x) ? 0 : 255;
            }
        }
    }
    return out;
}

}
