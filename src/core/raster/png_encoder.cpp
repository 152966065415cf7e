// Encodes a page as PNG (ISO/IEC 15948), with the compression that suits its pixels.
#include "core/raster/image_file.h"

#include <png.h>
#include <zlib.h>

#include <array>
#include <csetjmp>

namespace yelvin {

namespace {

// How deflate searches for repetitions. The grain of a scan repeats nothing: a long search takes most of the time and
// finds less than entropy coding and runs of one pixel do. Drawn pages do repeat themselves.
struct Packing {
    int level, strategy;
};
constexpr Packing grainy{1, Z_RLE}, drawn{6, Z_FILTERED}, of_bits{6, Z_DEFAULT_STRATEGY};

struct PngOut {
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, fell, hush);
    png_infop info = png ? png_create_info_struct(png) : nullptr;
    std::string bytes;
    bool had_room = true;

    PngOut() = default;
    PngOut(const PngOut&) = delete;
    PngOut& operator=(const PngOut&) = delete;
    ~PngOut() { png_destroy_write_struct(&png, &info); }

    static void fell(png_structp png, png_const_charp) { longjmp(png_jmpbuf(png), 1); } // NOLINT: libpng's way out
    static void hush(png_structp, png_const_charp) {}
    static void give(png_structp png, png_bytep bytes, png_size_t size) {
        auto* out = static_cast<PngOut*>(png_get_io_ptr(png));
        try {
            out->bytes.append(reinterpret_cast<const char*>(bytes), size);
        } catch (const std::bad_alloc&) { // An exception must not pass through libpng's C code.
            out->had_room = false;
        }
    }
    static void no_flush(png_structp) {}
};

// Contains all calls that may call longjmp(). Everything that must be released is owned by the state, outside of it.
bool write_rows(PngOut& out, const Raster& raster, const cv::Range& rows, const Packing& packing) {
    const bool colour = raster.ink == Ink::Colour, black = raster.ink == Ink::Black;
    if (setjmp(png_jmpbuf(out.png))) return false; // NOLINT: libpng's error handling
    png_set_write_fn(out.png, &out, PngOut::give, PngOut::no_flush);
    png_set_compression_level(out.png, packing.level);
    png_set_compression_strategy(out.png, packing.strategy);
    png_set_IHDR(out.png, out.info, static_cast<png_uint_32>(raster.width_px()), static_cast<png_uint_32>(rows.size()),
                 black ? 1 : 8, colour ? PNG_COLOR_TYPE_RGB : PNG_COLOR_TYPE_GRAY, PNG_INTERLACE_NONE,
                 PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
    const auto per_metre = static_cast<png_uint_32>(std::lround(raster.dpi * 1000 / mm_per_inch));
    png_set_pHYs(out.png, out.info, per_metre, per_metre, PNG_RESOLUTION_METER);
    png_write_info(out.png, out.info);
    if (colour) png_set_bgr(out.png);
    if (black) png_set_packing(out.png); // eight pixels a byte, 1 is white
    for (int y = rows.start; y < rows.end; ++y) png_write_row(out.png, raster.pixels.ptr(y));
    png_write_end(out.png, nullptr);
    return true;
}

Result<std::string> packed_rows(const Raster& raster, const cv::Range& rows, const Packing& packing) {
    PngOut out;
    if (!out.info || !write_rows(out, raster, rows, packing) || !out.had_room)
        return fail(ErrorKind::Internal,
                    "The page could not be saved as PNG; choose another format or a lower resolution.");
    return std::move(out.bytes);
}

// Judged by three bands of the page.
Packing packing_for(const Raster& raster) {
    constexpr int band_rows = 48;
    if (raster.ink == Ink::Black) return of_bits;
    std::array<size_t, 2> sizes{};
    for (const int sixths : {1, 3, 5}) {
        const int height = raster.height_px(), from = std::max(0, height * sixths / 6 - band_rows / 2);
        const cv::Range band(from, std::min(height, from + band_rows));
        for (const bool as_drawn : {false, true}) {
            const auto bytes = packed_rows(raster, band, as_drawn ? drawn : grainy);
            sizes.at(as_drawn ? 1 : 0) += bytes ? bytes->size() : 0;
        }
    }
    return sizes[1] < sizes[0] ? drawn : grainy;
}

}

Result<std::string> encode_png(const Raster& raster) {
    return packed_rows(raster, {0, raster.height_px()}, packing_for(raster));
}

}
