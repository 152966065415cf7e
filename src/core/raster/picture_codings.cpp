#include "core/raster/picture_codings.h"

#include <jbig2.h>
#include <openjpeg.h>
#include <tiffio.h>
#include <tiffio.hxx>

#include <algorithm>
#include <cstring>
#include <memory>
#include <sstream>

namespace yelvin {

namespace {

// Converts rows of eight pixels per byte, the first in the highest bit, to one byte per pixel: 255 if the bit is set.
cv::Mat unpacked(const uchar* bits, size_t stride, int width_px, int height_px) {
    cv::Mat out(height_px, width_px, CV_8UC1);
    for (int y = 0; y < height_px; ++y) {
        const uchar* from = bits + static_cast<size_t>(y) * stride;
        uchar* to = out.ptr(y);
        for (int x = 0; x < width_px; ++x) to[x] = (from[x / 8] >> (7 - x % 8) & 1) != 0 ? 255 : 0;
    }
    return out;
}

using OpenTiff = std::unique_ptr<TIFF, decltype([](TIFF* file) { TIFFClose(file); })>;

// Wraps the data as the only strip of a TIFF in memory, so that libtiff decodes them.
std::string as_tiff(const std::string& bytes, int width_px, int height_px) {
    std::ostringstream out;
    {
        const OpenTiff file{TIFFStreamOpen("g4", static_cast<std::ostream*>(&out))};
        if (!file) return {};
        TIFFSetField(file.get(), TIFFTAG_IMAGEWIDTH, static_cast<uint32_t>(width_px));
        TIFFSetField(file.get(), TIFFTAG_IMAGELENGTH, static_cast<uint32_t>(height_px));
        TIFFSetField(file.get(), TIFFTAG_BITSPERSAMPLE, 1);
        TIFFSetField(file.get(), TIFFTAG_SAMPLESPERPIXEL, 1);
        TIFFSetField(file.get(), TIFFTAG_COMPRESSION, COMPRESSION_CCITTFAX4);
        TIFFSetField(file.get(), TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_MINISWHITE);
        TIFFSetField(file.get(), TIFFTAG_ROWSPERSTRIP, static_cast<uint32_t>(height_px));
        std::string copy = bytes; // A copy, because libtiff may reverse the bits in place.
        if (TIFFWriteRawStrip(file.get(), 0, copy.data(), static_cast<tmsize_t>(copy.size())) < 0) return {};
    }
    return std::move(out).str();
}

}

std::optional<cv::Mat> decode_g4(const std::string& bytes, int width_px, int height_px) {
    std::istringstream in(as_tiff(bytes, width_px, height_px));
    const OpenTiff file{TIFFStreamOpen("g4", static_cast<std::istream*>(&in))};
    if (!file) return std::nullopt;
    const auto stride = (static_cast<size_t>(width_px) + 7) / 8;
    std::string bits(stride * static_cast<size_t>(height_px), '\0');
    const auto size = static_cast<tmsize_t>(bits.size());
    if (TIFFReadEncodedStrip(file.get(), 0, bits.data(), size) != size) return std::nullopt;
    cv::Mat black = unpacked(reinterpret_cast<const uchar*>(bits.data()), stride, width_px, height_px);
    return cv::Mat(255 - black); // of min-is-white a set bit is black
}

namespace {

using Jbig2 = std::unique_ptr<Jbig2Ctx, decltype([](Jbig2Ctx* context) { jbig2_ctx_free(context); })>;
using Jbig2Globals =
    std::unique_ptr<Jbig2GlobalCtx, decltype([](Jbig2GlobalCtx* context) { jbig2_global_ctx_free(context); })>;

// jbig2dec continues after errors, and prints them unless a callback receives them.
void note_trouble(void* failed, const char*, Jbig2Severity severity, uint32_t) {
    if (severity == JBIG2_SEVERITY_FATAL || severity == JBIG2_SEVERITY_WARNING) *static_cast<bool*>(failed) = true;
}

const unsigned char* as_data(const std::string& bytes) { return reinterpret_cast<const unsigned char*>(bytes.data()); }

}

std::optional<cv::Mat> decode_jbig2(const std::string& bytes, const std::string& globals) {
    bool failed = false;
    Jbig2Globals shared;
    if (!globals.empty()) {
        Jbig2Ctx* const context = jbig2_ctx_new(nullptr, JBIG2_OPTIONS_EMBEDDED, nullptr, note_trouble, &failed);
        if (!context) return std::nullopt;
        jbig2_data_in(context, as_data(globals), globals.size());
        shared.reset(jbig2_make_global_ctx(context));
    }
    const Jbig2 context{jbig2_ctx_new(nullptr, JBIG2_OPTIONS_EMBEDDED, shared.get(), note_trouble, &failed)};
    if (!context) return std::nullopt;
    jbig2_data_in(context.get(), as_data(bytes), bytes.size());
    jbig2_complete_page(context.get());
    Jbig2Image* const page = jbig2_page_out(context.get());
    if (!page) return std::nullopt;
    const cv::Mat black =
        unpacked(page->data, page->stride, static_cast<int>(page->width), static_cast<int>(page->height));
    jbig2_release_page(context.get(), page);
    if (failed) return std::nullopt;
    return cv::Mat(255 - black);
}

namespace {

struct BytesRead {
    const std::string& bytes;
    size_t at = 0;
};

OPJ_SIZE_T take_bytes(void* to, OPJ_SIZE_T count, void* user) {
    auto& from = *static_cast<BytesRead*>(user);
    const size_t there = std::min<size_t>(count, from.bytes.size() - from.at);
    if (there == 0) return static_cast<OPJ_SIZE_T>(-1);
    std::memcpy(to, from.bytes.data() + from.at, there);
    from.at += there;
    return there;
}

OPJ_OFF_T skip_bytes(OPJ_OFF_T count, void* user) {
    auto& from = *static_cast<BytesRead*>(user);
    const auto left = static_cast<OPJ_OFF_T>(from.bytes.size() - from.at);
    if (count < 0 || count > left) return -1;
    from.at += static_cast<size_t>(count);
    return count;
}

OPJ_BOOL go_to_byte(OPJ_OFF_T place, void* user) {
    auto& from = *static_cast<BytesRead*>(user);
    if (place < 0 || static_cast<size_t>(place) > from.bytes.size()) return OPJ_FALSE;
    from.at = static_cast<size_t>(place);
    return OPJ_TRUE;
}

using Stream = std::unique_ptr<opj_stream_t, decltype([](opj_stream_t* stream) { opj_stream_destroy(stream); })>;
using Codec = std::unique_ptr<opj_codec_t, decltype([](opj_codec_t* codec) { opj_destroy_codec(codec); })>;
using Image = std::unique_ptr<opj_image_t, decltype([](opj_image_t* image) { opj_image_destroy(image); })>;

Image decoded_jpeg2000(BytesRead& source) {
    const bool is_file = source.bytes.size() > 12 && source.bytes.compare(4, 4, "jP  ") == 0;
    const Stream stream{opj_stream_default_create(OPJ_TRUE)};
    const Codec codec{opj_create_decompress(is_file ? OPJ_CODEC_JP2 : OPJ_CODEC_J2K)};
    if (!stream || !codec) return nullptr;
    opj_stream_set_read_function(stream.get(), take_bytes);
    opj_stream_set_skip_function(stream.get(), skip_bytes);
    opj_stream_set_seek_function(stream.get(), go_to_byte);
    opj_stream_set_user_data(stream.get(), &source, nullptr);
    opj_stream_set_user_data_length(stream.get(), source.bytes.size());
    opj_dparameters_t parameters;
    opj_set_default_decoder_parameters(&parameters);
    if (!opj_setup_decoder(codec.get(), &parameters)) return nullptr;
    opj_decoder_set_strict_mode(codec.get(), OPJ_TRUE); // Truncated data count as damaged.
    opj_image_t* header = nullptr;
    if (!opj_read_header(stream.get(), codec.get(), &header)) return nullptr;
    Image image{header};
    constexpr double most_pixels = 4e8;
    if (static_cast<double>(image->x1 - image->x0) * (image->y1 - image->y0) > most_pixels) return nullptr;
    if (!opj_decode(codec.get(), stream.get(), image.get())) return nullptr;
    return image;
}

}

std::optional<cv::Mat> decode_jpeg2000(const std::string& bytes) {
    BytesRead source{bytes};
    const Image image = decoded_jpeg2000(source);
    if (!image || (image->numcomps != 1 && image->numcomps != 3)) return std::nullopt;
    if (image->color_space == OPJ_CLRSPC_SYCC || image->color_space == OPJ_CLRSPC_EYCC) return std::nullopt;
    const int channels = static_cast<int>(image->numcomps);
    const opj_image_comp_t& first = image->comps[0];
    cv::Mat out(static_cast<int>(first.h), static_cast<int>(first.w), CV_8UC(channels));
    for (int c = 0; c < channels; ++c) {
        const opj_image_comp_t& from = image->comps[c];
        if (from.w != first.w || from.h != first.h || from.prec != 8 || from.sgnd != 0 || !from.data)
            return std::nullopt;
        const int to = channels == 3 ? 2 - c : 0; // RGB to BGR
        for (int y = 0; y < out.rows; ++y) {
            const OPJ_INT32* row = from.data + static_cast<size_t>(y) * from.w;
            for (int x = 0; x < out.cols; ++x) out.ptr(y)[x * channels + to] = cv::saturate_cast<uchar>(row[x]);
        }
    }
    return out;
}

}
