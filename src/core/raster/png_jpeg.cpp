#include "core/raster/png_jpeg.h"

#include "core/raster/colour_profile.h"

#include <libexif/exif-data.h>
#include <opencv2/imgproc.hpp>
#include <png.h>

#include <csetjmp>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <memory>

#include <jerror.h>
#include <jpeglib.h>

namespace yelvin {

namespace {

// Rounds a resolution that was converted from pixels per metre to the whole number of dpi that it came from.
double whole_dpi(double dpi) { return std::abs(dpi - std::round(dpi)) < 0.02 ? std::round(dpi) : dpi; }

struct PngBytes {
    const std::string& bytes;
    size_t at = 0;
};

void png_take(png_structp png, png_bytep out, png_size_t count) {
    auto* source = static_cast<PngBytes*>(png_get_io_ptr(png));
    if (source->at + count > source->bytes.size()) png_error(png, "cut off");
    std::memcpy(out, source->bytes.data() + source->at, count);
    source->at += count;
}

void png_fail(png_structp png, png_const_charp) { longjmp(png_jmpbuf(png), 1); } // NOLINT: libpng's way out
void png_hush(png_structp, png_const_charp) {}

// Composes transparent pixels with white.
cv::Mat on_white(const cv::Mat& with_alpha) {
    const int colours = with_alpha.channels() - 1;
    if (colours != 1 && colours != 3) return with_alpha;
    cv::Mat out(with_alpha.size(), CV_8UC(colours));
    for (int y = 0; y < out.rows; ++y) {
        const uchar* in = with_alpha.ptr(y);
        uchar* to = out.ptr(y);
        for (int x = 0; x < out.cols; ++x, in += colours + 1) {
            for (int c = 0; c < colours; ++c)
                *to++ = static_cast<uchar>((in[c] * in[colours] + 255 * (255 - in[colours]) + 127) / 255);
        }
    }
    return out;
}

bool grey_palette(png_structp png, png_infop info) {
    png_colorp palette = nullptr;
    int count = 0;
    if (!png_get_PLTE(png, info, &palette, &count)) return false;
    for (int i = 0; i < count; ++i) {
        if (palette[i].red != palette[i].green || palette[i].green != palette[i].blue) return false;
    }
    return true;
}

struct PngState {
    png_structp png = png_create_read_struct(PNG_LIBPNG_VER_STRING, nullptr, png_fail, png_hush);
    png_infop info = png ? png_create_info_struct(png) : nullptr;
    cv::Mat pixels;
    std::vector<png_bytep> rows;
    bool bilevel = false, to_grey = false;
    PngState() = default;
    PngState(const PngState&) = delete;
    PngState& operator=(const PngState&) = delete;
    ~PngState() { png_destroy_read_struct(&png, &info, nullptr); }
};

// Contains all calls that may call longjmp(). Everything that must be released is owned by the state, outside of it.
bool read_png(PngState& state, PngBytes& source) {
    if (setjmp(png_jmpbuf(state.png))) return false; // NOLINT: libpng's error handling
    png_set_read_fn(state.png, &source, png_take);
    png_read_info(state.png, state.info);
    const int colour = png_get_color_type(state.png, state.info);
    state.bilevel = colour == PNG_COLOR_TYPE_GRAY && png_get_bit_depth(state.png, state.info) == 1;
    state.to_grey = colour == PNG_COLOR_TYPE_PALETTE && grey_palette(state.png, state.info);
    png_set_expand(state.png);
    png_set_strip_16(state.png);
    png_set_bgr(state.png);
    png_set_interlace_handling(state.png);
    png_read_update_info(state.png, state.info);
    const int width = static_cast<int>(png_get_image_width(state.png, state.info)),
              height = static_cast<int>(png_get_image_height(state.png, state.info));
    state.pixels.create(height, width, CV_8UC(png_get_channels(state.png, state.info)));
    state.rows.resize(static_cast<size_t>(height));
    for (int y = 0; y < height; ++y) state.rows[static_cast<size_t>(y)] = state.pixels.ptr(y);
    png_read_image(state.png, state.rows.data());
    png_read_end(state.png, nullptr);
    return true;
}

}

std::optional<DecodedPicture> decode_png(const std::string& bytes) {
    PngState state;
    if (!state.info) return std::nullopt;
    PngBytes source{bytes};
    if (!read_png(state, source)) return std::nullopt;
    DecodedPicture out;
    cv::Mat pixels = on_white(state.pixels);
    if (state.to_grey && pixels.channels() == 3) cv::extractChannel(pixels, pixels, 0);
    out.raster = {pixels, out.raster.dpi,
                  pixels.channels() == 3 ? Ink::Colour
                  : state.bilevel        ? Ink::Black
                                         : Ink::Grey};
    png_charp name = nullptr;
    png_bytep profile = nullptr;
    png_uint_32 size = 0;
    int compression = 0;
    if (png_get_iCCP(state.png, state.info, &name, &compression, &profile, &size) == PNG_INFO_iCCP &&
        out.raster.ink != Ink::Black)
        to_srgb(out.raster.pixels, {reinterpret_cast<const char*>(profile), size});
    out.x_dpi = whole_dpi(png_get_x_pixels_per_meter(state.png, state.info) * mm_per_inch / 1000);
    out.y_dpi = whole_dpi(png_get_y_pixels_per_meter(state.png, state.info) * mm_per_inch / 1000);
    return out;
}

namespace {

struct JpegState {
    jpeg_decompress_struct jpeg{};
    jpeg_error_mgr errors{};
    std::jmp_buf way_out{};
    cv::Mat pixels;
    bool ends_early = false;
    JpegState() {
        jpeg.err = jpeg_std_error(&errors);
        errors.error_exit = [](j_common_ptr common) {
            longjmp(static_cast<JpegState*>(common->client_data)->way_out, 1);
        }; // NOLINT
        errors.output_message = [](j_common_ptr) {};
        jpeg.client_data = this;
        jpeg_create_decompress(&jpeg);
    }
    JpegState(const JpegState&) = delete;
    JpegState& operator=(const JpegState&) = delete;
    ~JpegState() { jpeg_destroy_decompress(&jpeg); }
};

bool read_jpeg_header(JpegState& state, std::string_view bytes) {
    if (setjmp(state.way_out)) return false;               // NOLINT: libjpeg's error handling
    jpeg_save_markers(&state.jpeg, JPEG_APP0 + 1, 0xFFFF); // EXIF
    jpeg_save_markers(&state.jpeg, JPEG_APP0 + 2, 0xFFFF); // the colour profile
    jpeg_mem_src(&state.jpeg, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    return jpeg_read_header(&state.jpeg, TRUE) == JPEG_HEADER_OK;
}

// Counts only warnings that mean lost pixels. Others, such as bytes between markers or a missing end marker, lose
// nothing: if a part of the picture is missing, decoding it warns as well.
void count_losses_only(JpegState& state) {
    state.errors.emit_message = [](j_common_ptr common, int level) {
        if (level >= 0) return;
        const int code = common->err->msg_code;
        if (code == JWRN_JPEG_EOF) static_cast<JpegState*>(common->client_data)->ends_early = true;
        if (code == JWRN_HIT_MARKER || code == JWRN_HUFF_BAD_CODE || code == JWRN_MUST_RESYNC ||
            code == JWRN_BOGUS_PROGRESSION || code == JWRN_NOT_SEQUENTIAL)
            ++common->err->num_warnings;
    };
}

// Returns whether all scans of a JPEG with several scans are there. The decoder does not warn about scans that are
// missing at the end. For a progressive JPEG libjpeg tells how precisely each coefficient is known; for any other JPEG
// of several scans that ends early the answer is false, since it cannot be told.
bool has_all_scans(const JpegState& state) {
    const jpeg_decompress_struct& jpeg = state.jpeg;
    if (!state.ends_early || !jpeg_has_multiple_scans(const_cast<jpeg_decompress_struct*>(&jpeg))) return true;
    if (!jpeg.progressive_mode || !jpeg.coef_bits) return false;
    for (int component = 0; component < jpeg.num_components; ++component)
        for (int i = 0; i < DCTSIZE2; ++i)
            if (jpeg.coef_bits[component][i] != 0) return false;
    return true;
}

bool runs_through_jpeg(JpegState& state) {
    if (setjmp(state.way_out)) return false; // NOLINT: libjpeg's error handling
    count_losses_only(state);
    state.jpeg.scale_num = 1;
    state.jpeg.scale_denom = 8;
    state.jpeg.out_color_space = state.jpeg.jpeg_color_space; // no conversion
    jpeg_start_decompress(&state.jpeg);
    state.pixels.create(1, static_cast<int>(state.jpeg.output_width) * state.jpeg.output_components, CV_8UC1);
    while (state.jpeg.output_scanline < state.jpeg.output_height) {
        JSAMPROW row = state.pixels.ptr(0);
        jpeg_read_scanlines(&state.jpeg, &row, 1);
    }
    const bool has_all = has_all_scans(state);
    jpeg_finish_decompress(&state.jpeg);
    return has_all && state.errors.num_warnings == 0;
}

bool read_jpeg_rows(JpegState& state) {
    if (setjmp(state.way_out)) return false; // NOLINT: libjpeg's error handling
    count_losses_only(state);
    const bool grey = state.jpeg.jpeg_color_space == JCS_GRAYSCALE;
    state.jpeg.out_color_space = grey ? JCS_GRAYSCALE : JCS_EXT_BGR;
    jpeg_start_decompress(&state.jpeg);
    state.pixels.create(static_cast<int>(state.jpeg.output_height), static_cast<int>(state.jpeg.output_width),
                        grey ? CV_8UC1 : CV_8UC3);
    while (state.jpeg.output_scanline < state.jpeg.output_height) {
        JSAMPROW row = state.pixels.ptr(static_cast<int>(state.jpeg.output_scanline));
        jpeg_read_scanlines(&state.jpeg, &row, 1);
    }
    const bool has_all = has_all_scans(state);
    jpeg_finish_decompress(&state.jpeg);
    return has_all && state.errors.num_warnings == 0; // libjpeg fills what is missing with grey and only warns
}

bool four_colours(const JpegState& state) {
    return state.jpeg.jpeg_color_space == JCS_CMYK || state.jpeg.jpeg_color_space == JCS_YCCK;
}

// The ICC profile, which may be in several markers (ICC.1:2001-04, B.4).
std::string profile_of(JpegState& state) {
    JOCTET* bytes = nullptr;
    unsigned size = 0;
    if (setjmp(state.way_out)) return {}; // NOLINT: libjpeg's error handling
    if (!jpeg_read_icc_profile(&state.jpeg, &bytes, &size)) return {};
    std::string profile(reinterpret_cast<const char*>(bytes), size);
    std::free(bytes); // NOLINT: libjpeg allocates it by malloc
    return profile;
}

using Exif = std::unique_ptr<ExifData, decltype([](ExifData* data) { exif_data_unref(data); })>;

// CIPA DC-008, 4.6.4 A: resolution by unit 2 (inch) or 3 (cm); 72 pixels an inch are written where it is not known.
void take_exif_resolution(DecodedPicture& picture, const JpegState& state) {
    const jpeg_marker_struct* marker = state.jpeg.marker_list;
    while (marker &&
           (marker->marker != JPEG_APP0 + 1 || marker->data_length < 6 || std::memcmp(marker->data, "Exif", 4) != 0))
        marker = marker->next;
    const Exif exif{marker ? exif_data_new_from_data(marker->data, marker->data_length) : nullptr};
    if (!exif) return;
    const ExifByteOrder order = exif_data_get_byte_order(exif.get());
    const auto entry = [&](ExifTag tag) { return exif_content_get_entry(exif->ifd[EXIF_IFD_0], tag); };
    const auto resolution = [&](ExifTag tag) {
        const ExifEntry* const found = entry(tag);
        if (!found || found->format != EXIF_FORMAT_RATIONAL || found->size < 8) return 0.0;
        const ExifRational value = exif_get_rational(found->data, order);
        return value.denominator > 0 ? static_cast<double>(value.numerator) / value.denominator : 0.0;
    };
    const ExifEntry* const unit = entry(EXIF_TAG_RESOLUTION_UNIT);
    const bool by_cm =
        unit && unit->format == EXIF_FORMAT_SHORT && unit->size >= 2 && exif_get_short(unit->data, order) == 3;
    const double to_dpi = by_cm ? mm_per_inch / 10 : 1;
    const double x = resolution(EXIF_TAG_X_RESOLUTION) * to_dpi, y = resolution(EXIF_TAG_Y_RESOLUTION) * to_dpi;
    constexpr double unknown = 72;
    if (x == unknown && y == unknown) return;
    picture.x_dpi = whole_dpi(x);
    picture.y_dpi = whole_dpi(y);
}

}

std::optional<JpegHeader> jpeg_header(const std::string& bytes) {
    JpegState state;
    if (!read_jpeg_header(state, bytes)) return std::nullopt;
    return JpegHeader{static_cast<int>(state.jpeg.image_width), static_cast<int>(state.jpeg.image_height),
                      four_colours(state)};
}

bool is_whole_jpeg(std::string_view bytes) {
    JpegState state;
    return read_jpeg_header(state, bytes) && runs_through_jpeg(state);
}

std::optional<DecodedPicture> decode_jpeg(const std::string& bytes, JpegColours colours) {
    JpegState state;
    if (!read_jpeg_header(state, bytes) || four_colours(state)) return std::nullopt;
    DecodedPicture out;
    const double unit = state.jpeg.density_unit == 1   ? 1
                        : state.jpeg.density_unit == 2 ? mm_per_inch / 10
                                                       : 0; // JFIF 1.02, APP0
    if (state.jpeg.saw_JFIF_marker) {
        out.x_dpi = state.jpeg.X_density * unit;
        out.y_dpi = state.jpeg.Y_density * unit;
    }
    // libjpeg releases the markers after the last row was decoded.
    if (out.x_dpi <= 1) take_exif_resolution(out, state);
    const std::string profile = colours == JpegColours::AsItsProfileSays ? profile_of(state) : std::string();
    if (!read_jpeg_rows(state)) return std::nullopt;
    out.raster = {state.pixels, out.raster.dpi, state.pixels.channels() == 3 ? Ink::Colour : Ink::Grey};
    to_srgb(out.raster.pixels, profile);
    return out;
}

}
