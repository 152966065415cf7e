#include "core/raster/png_jpeg.h"

#include <opencv2/imgproc.hpp>
#include <png.h>

#include <csetjmp>
#include <cstdio>
#include <cstring>

#include <jerror.h>
#include <jpeglib.h>

namespace yelvin {

namespace {

// Dots per metre come out a little beside the whole number they were made from.
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

// Transparent dots let white paper through.
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

// All that may jump out lies in here; what must be freed lies in the state outside.
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
    if (setjmp(state.way_out)) return false; // NOLINT: libjpeg's error handling
    jpeg_mem_src(&state.jpeg, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    return jpeg_read_header(&state.jpeg, TRUE) == JPEG_HEADER_OK;
}

bool runs_through_jpeg(JpegState& state) {
    if (setjmp(state.way_out)) return false; // NOLINT: libjpeg's error handling
    // Bytes between markers (JWRN_EXTRANEOUS_DATA and the like) lose nothing; these do.
    state.errors.emit_message = [](j_common_ptr common, int level) {
        const int code = common->err->msg_code;
        const bool loses =
            code == JWRN_HIT_MARKER || code == JWRN_JPEG_EOF || code == JWRN_HUFF_BAD_CODE || code == JWRN_MUST_RESYNC;
        if (level < 0 && loses) ++common->err->num_warnings;
    };
    state.jpeg.scale_num = 1;
    state.jpeg.scale_denom = 8;
    state.jpeg.out_color_space = state.jpeg.jpeg_color_space; // no conversion
    jpeg_start_decompress(&state.jpeg);
    state.pixels.create(1, static_cast<int>(state.jpeg.output_width) * state.jpeg.output_components, CV_8UC1);
    while (state.jpeg.output_scanline < state.jpeg.output_height) {
        JSAMPROW row = state.pixels.ptr(0);
        jpeg_read_scanlines(&state.jpeg, &row, 1);
    }
    jpeg_finish_decompress(&state.jpeg);
    return state.errors.num_warnings == 0;
}

bool read_jpeg_rows(JpegState& state) {
    if (setjmp(state.way_out)) return false; // NOLINT: libjpeg's error handling
    const bool grey = state.jpeg.jpeg_color_space == JCS_GRAYSCALE;
    state.jpeg.out_color_space = grey ? JCS_GRAYSCALE : JCS_EXT_BGR;
    jpeg_start_decompress(&state.jpeg);
    state.pixels.create(static_cast<int>(state.jpeg.output_height), static_cast<int>(state.jpeg.output_width),
                        grey ? CV_8UC1 : CV_8UC3);
    while (state.jpeg.output_scanline < state.jpeg.output_height) {
        JSAMPROW row = state.pixels.ptr(static_cast<int>(state.jpeg.output_scanline));
        jpeg_read_scanlines(&state.jpeg, &row, 1);
    }
    jpeg_finish_decompress(&state.jpeg);
    return state.errors.num_warnings == 0; // libjpeg fills what is missing with grey and only warns
}

bool four_colours(const JpegState& state) {
    return state.jpeg.jpeg_color_space == JCS_CMYK || state.jpeg.jpeg_color_space == JCS_YCCK;
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

std::optional<DecodedPicture> decode_jpeg(const std::string& bytes) {
    JpegState state;
    if (!read_jpeg_header(state, bytes) || four_colours(state) || !read_jpeg_rows(state)) return std::nullopt;
    DecodedPicture out;
    out.raster = {state.pixels, out.raster.dpi, state.pixels.channels() == 3 ? Ink::Colour : Ink::Grey};
    const double unit = state.jpeg.density_unit == 1   ? 1
                        : state.jpeg.density_unit == 2 ? mm_per_inch / 10
                                                       : 0; // JFIF 1.02, APP0
    if (state.jpeg.saw_JFIF_marker) {
        out.x_dpi = state.jpeg.X_density * unit;
        out.y_dpi = state.jpeg.Y_density * unit;
    }
    return out;
}

}
