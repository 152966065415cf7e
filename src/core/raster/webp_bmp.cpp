// Encodes WebP and BMP. The resolution of WebP is stored in EXIF data, because the format has no field for it.
#include "core/raster/colour_profile.h"
#include "core/raster/image_file.h"
#include "core/raster/pix.h"

#include <opencv2/imgproc.hpp>
#include <webp/encode.h>
#include <webp/mux.h>

#include <memory>

namespace yelvin {

namespace {

std::unexpected<Error> not_encoded(const char* kind) {
    return fail(ErrorKind::Internal, std::string("The page could not be saved as ") + kind + ".");
}

}

Result<std::string> encode_webp(const Raster& raster, int quality) {
    constexpr int longest_side = WEBP_MAX_DIMENSION;
    if (raster.width_px() > longest_side || raster.height_px() > longest_side)
        return fail(
            ErrorKind::BadInput,
            "The page is larger than WebP allows (16,383 px per side). Choose a lower resolution or another format.");
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
    const std::string& profile = colour_profile(Ink::Colour);
    const auto chunk = [](const std::string& of) {
        return WebPData{reinterpret_cast<const std::uint8_t*>(of.data()), of.size()};
    };
    const WebPData picture{bytes, size}, about = chunk(exif), colours = chunk(profile);
    WebPData whole{};
    if (WebPMuxSetImage(mux.get(), &picture, 0) != WEBP_MUX_OK ||
        WebPMuxSetChunk(mux.get(), "ICCP", &colours, 1) != WEBP_MUX_OK ||
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
