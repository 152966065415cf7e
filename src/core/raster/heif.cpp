// Encodes AVIF and HEIC (ISO/IEC 23008-12) with libheif, with an embedded colour profile and the resolution in EXIF
// data.
#include "core/raster/colour_profile.h"
#include "core/raster/image_file.h"

#include <libheif/heif.h>
#include <opencv2/imgproc.hpp>

#include <mutex>

namespace yelvin {

namespace {

using HeifContext = std::unique_ptr<heif_context, decltype([](heif_context* c) { heif_context_free(c); })>;
using HeifEncoder = std::unique_ptr<heif_encoder, decltype([](heif_encoder* e) { heif_encoder_release(e); })>;
using HeifImage = std::unique_ptr<heif_image, decltype([](heif_image* i) { heif_image_release(i); })>;
using HeifHandle =
    std::unique_ptr<heif_image_handle, decltype([](heif_image_handle* h) { heif_image_handle_release(h); })>;

bool good(const heif_error& error) { return error.code == heif_error_Ok; }

HeifImage image_of(const Raster& raster) {
    const bool colour = raster.ink == Ink::Colour;
    heif_image* made = nullptr;
    heif_image_create(raster.width_px(), raster.height_px(), colour ? heif_colorspace_RGB : heif_colorspace_monochrome,
                      colour ? heif_chroma_interleaved_RGB : heif_chroma_monochrome, &made);
    HeifImage image(made);
    const heif_channel channel = colour ? heif_channel_interleaved : heif_channel_Y;
    if (!image || !good(heif_image_add_plane(image.get(), channel, raster.width_px(), raster.height_px(), 8)))
        return {};
    int stride = 0;
    std::uint8_t* plane = heif_image_get_plane(image.get(), channel, &stride);
    cv::Mat target(raster.pixels.size(), raster.pixels.type(), plane, static_cast<size_t>(stride));
    if (colour)
        cv::cvtColor(raster.pixels, target, cv::COLOR_BGR2RGB);
    else
        raster.pixels.copyTo(target);
    const std::string& profile = colour_profile(raster.ink);
    heif_image_set_raw_color_profile(image.get(), "prof", profile.data(), profile.size());
    return image;
}

heif_error take_bytes(heif_context*, const void* bytes, size_t size, void* into) {
    static_cast<std::string*>(into)->append(static_cast<const char*>(bytes), size);
    return {heif_error_Ok, heif_suberror_Unspecified, nullptr};
}

// `kind` is the name of the format for error messages.
Result<std::string> encode_heif(const Raster& raster, int quality, heif_compression_format format, const char* kind) {
    const auto failed = [kind](const std::string& why) {
        return fail(ErrorKind::Internal,
                    std::string("The page could not be saved as ") + kind + "; choose another format.", why);
    };
    const HeifContext context(heif_context_alloc());
    heif_encoder* found = nullptr;
    if (!good(heif_context_get_encoder_for_format(context.get(), format, &found))) return failed("no encoder");
    const HeifEncoder encoder(found);
    // With this quality the error equals that of a JPEG with the same setting (45 dB at 85, measured on the demo's
    // pages).
    if (format == heif_compression_HEVC) quality = quality * 6 / 10;
    if (raster.ink == Ink::Black)
        heif_encoder_set_lossless(encoder.get(), 1);
    else
        heif_encoder_set_lossy_quality(encoder.get(), quality);
    if (format == heif_compression_AV1) heif_encoder_set_parameter_integer(encoder.get(), "speed", 8);
    if (format == heif_compression_HEVC) heif_encoder_set_parameter_string(encoder.get(), "preset", "veryfast");
    const HeifImage image = image_of(raster);
    if (!image) return failed("no memory");
    heif_image_handle* made = nullptr;
    const heif_error encoded = heif_context_encode_image(context.get(), image.get(), encoder.get(), nullptr, &made);
    const HeifHandle handle(made);
    if (!good(encoded)) return failed(encoded.message);
    const std::string exif = exif_of(raster.dpi);
    heif_context_add_exif_metadata(context.get(), handle.get(), exif.data(), static_cast<int>(exif.size()));
    std::string out;
    heif_writer writer{1, take_bytes};
    if (!good(heif_context_write(context.get(), &writer, &out))) return failed("not written");
    return out;
}

}

Result<std::string> encode_avif(const Raster& raster, int quality) {
    return encode_heif(raster, quality, heif_compression_AV1, "AVIF");
}
Result<std::string> encode_heic(const Raster& raster, int quality) {
    const auto encode = [](const Raster& page, int at) { return encode_heif(page, at, heif_compression_HEVC, "HEIC"); };
    // x265 fills its table of functions when its first encoder is opened, without a lock; another encoder that is
    // opened meanwhile calls functions that are not in it yet, which ends the program (seen twice). So the first
    // encoding of the process, of a tiny picture, runs alone.
    static std::once_flag is_ready;
    std::call_once(is_ready, [&] { (void)encode({cv::Mat(64, 64, CV_8UC1, cv::Scalar(255)), 300, Ink::Grey}, 50); });
    return encode(raster, quality);
}

bool heif_is_whole(const std::filesystem::path& file) {
    const HeifContext context(heif_context_alloc());
    heif_image_handle* found = nullptr;
    const bool read = good(heif_context_read_from_file(context.get(), file.c_str(), nullptr)) &&
                      good(heif_context_get_primary_image_handle(context.get(), &found));
    const HeifHandle handle(found);
    return read && heif_image_handle_get_width(found) > 0;
}

}
