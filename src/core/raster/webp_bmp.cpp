// WebP with its resolution in EXIF, since the format itself has no place for it, and BMP.
#include "core/raster/image_file.h"
#include "core/raster/pix.h"

#include <opencv2/imgproc.hpp>
#include <webp/encode.h>
#include <webp/mux.h>

#include <cmath>
#include <cstring>

namespace yelvin {

namespace {

// The least EXIF that says the resolution (CIPA DC-008 after TIFF 6.0): little endian, one directory of three entries,
// two fractions behind it.
std::string exif_of(double dpi) {
    std::string out("II*\0\x08\0\0\0\x03\0", 10);
    const auto number = [&out](std::uint32_t value, int bytes) {
        for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> (8 * i) & 0xFFU);
    };
    const auto entry = [&](std::uint32_t tag, std::uint32_t type, std::uint32_t value) {
        number(tag, 2), number(type, 2), number(1, 4), number(value, 4);
    };
    constexpr std::uint32_t fractions = 10 + 3 * 12 + 4;
    entry(0x011A, 5, fractions);     // XResolution, a fraction
    entry(0x011B, 5, fractions + 8); // YResolution
    entry(0x0128, 3, 2);             // ResolutionUnit: inch
    number(0, 4);                    // no directory follows
    for (int i = 0; i < 2; ++i) number(static_cast<std::uint32_t>(std::lround(dpi * 100)), 4), number(100, 4);
    return out;
}

std::unexpected<Error> not_encoded(const char* kind) {
    return fail(ErrorKind::Internal, std::string("The page could not be encoded as ") + kind + ".");
}

}

Result<std::string> encode_webp(const Raster& raster, int quality) {
    constexpr int longest_side = WEBP_MAX_DIMENSION;
    if (raster.width_px() > longest_side || raster.height_px() > longest_side)
        return fail(ErrorKind::BadInput, "The page is larger than WebP allows, 16383 dots a side. Choose a coarser "
                                         "resolution or another kind of file.");
    cv::Mat colour = raster.pixels;
    if (colour.channels() == 1) cv::cvtColor(raster.pixels, colour, cv::COLOR_GRAY2BGR);
    const auto step = static_cast<int>(colour.step);
    std::uint8_t* bytes = nullptr;
    const size_t size =
        raster.ink == Ink::Black
            ? WebPEncodeLosslessBGR(colour.data, colour.cols, colour.rows, step, &bytes)
            : WebPEncodeBGR(colour.data, colour.cols, colour.rows, step, static_cast<float>(quality), &bytes);
    const std::unique_ptr<std::uint8_t, decltype([](std::uint8_t* b) { WebPFree(b); })> owned(bytes);
    if (size == 0) return not_encoded("WebP");
    const std::unique_ptr<WebPMux, decltype([](WebPMux* m) { WebPMuxDelete(m); })> mux(WebPMuxNew());
    const std::string exif = exif_of(raster.dpi);
    const WebPData picture{bytes, size}, about{reinterpret_cast<const std::uint8_t*>(exif.data()), exif.size()};
    WebPData whole{};
    if (WebPMuxSetImage(mux.get(), &picture, 0) != WEBP_MUX_OK ||
        WebPMuxSetChunk(mux.get(), "EXIF", &about, 1) != WEBP_MUX_OK ||
        WebPMuxAssemble(mux.get(), &whole) != WEBP_MUX_OK)
        return not_encoded("WebP");
    std::string out(reinterpret_cast<const char*>(whole.bytes), whole.size);
    WebPDataClear(&whole);
    return out;
}

Result<std::string> encode_bmp(const Raster& raster) {
    const PixPtr pix = to_pix(raster);
    l_uint8* bytes = nullptr;
    size_t size = 0;
    if (!pix || pixWriteMemBmp(&bytes, &size, pix.get()) != 0) return not_encoded("BMP");
    std::string out(reinterpret_cast<const char*>(bytes), size);
    lept_free(bytes);
    return out;
}

}
