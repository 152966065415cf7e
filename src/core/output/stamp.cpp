#include "core/output/stamp.h"

#include "core/raster/units.h"

#include <cairo-pdf.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <memory>

namespace yelvin {

namespace {

using Surface = std::unique_ptr<cairo_surface_t, decltype([](cairo_surface_t* s) { cairo_surface_destroy(s); })>;
using Cairo = std::unique_ptr<cairo_t, decltype([](cairo_t* c) { cairo_destroy(c); })>;

constexpr double edge_mm = 8;

// Hinting is off, so that letters have the same proportions at every size and rotation.
void choose_face(cairo_t* cairo, double size) {
    const std::unique_ptr<cairo_font_options_t,
                          decltype([](cairo_font_options_t* o) { cairo_font_options_destroy(o); })>
        plain(cairo_font_options_create());
    cairo_font_options_set_hint_metrics(plain.get(), CAIRO_HINT_METRICS_OFF);
    cairo_font_options_set_hint_style(plain.get(), CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_antialias(plain.get(), CAIRO_ANTIALIAS_GRAY);
    cairo_set_font_options(cairo, plain.get());
    cairo_select_font_face(cairo, "Liberation Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, size);
}

struct Rgb {
    double red = 0, green = 0, blue = 0;
};
Rgb colour_of(const Stamp& how) {
    const auto value = static_cast<unsigned>(std::stoul(how.colour.substr(1), nullptr, 16));
    return {(value >> 16U & 0xFFU) / 255.0, (value >> 8U & 0xFFU) / 255.0, (value & 0xFFU) / 255.0};
}

struct Measured {
    SizePt size;
    double ascent = 0;
};
Measured measured(const std::string& words, const Stamp& how) {
    const Surface surface(cairo_image_surface_create(CAIRO_FORMAT_A8, 1, 1));
    const Cairo cairo(cairo_create(surface.get()));
    choose_face(cairo.get(), how.size_pt);
    cairo_text_extents_t text;
    cairo_text_extents(cairo.get(), words.c_str(), &text);
    cairo_font_extents_t font;
    cairo_font_extents(cairo.get(), &font);
    return {{std::max(text.x_advance, text.x_bearing + text.width), font.ascent + font.descent}, font.ascent};
}

cairo_status_t take_bytes(void* into, const unsigned char* bytes, unsigned count) {
    static_cast<std::string*>(into)->append(reinterpret_cast<const char*>(bytes), count);
    return CAIRO_STATUS_SUCCESS;
}

bool is_left(Stamp::At at) { return at == Stamp::At::TopLeft || at == Stamp::At::BottomLeft; }
bool is_right(Stamp::At at) { return at == Stamp::At::TopRight || at == Stamp::At::BottomRight; }
bool is_top(Stamp::At at) { return at == Stamp::At::TopLeft || at == Stamp::At::Top || at == Stamp::At::TopRight; }

}

SizePt stamp_size(const std::string& words, const Stamp& how) { return measured(words, how).size; }

cv::Matx23d stamp_place(const Stamp& how, SizePt words, SizePt page) {
    const double edge = mm_to_pt(edge_mm);
    // The stamp never extends beyond the left edge of the page, even if it is too long.
    const auto across = [&](double room, double wide, bool first, bool last) {
        const double at = first ? edge : last ? room - edge - wide : (room - wide) / 2;
        return std::max(std::min(edge, room / 10), at);
    };
    if (!how.turned)
        return {1, 0, across(page.width, words.width, is_left(how.at), is_right(how.at)),
                0, 1, across(page.height, words.height, is_top(how.at), !is_top(how.at))};
    const bool in_middle = how.at == Stamp::At::Top || how.at == Stamp::At::Bottom;
    const bool at_left = is_left(how.at) || how.at == Stamp::At::Top;
    const double x = across(page.width, words.height, at_left, !at_left);
    const double y = across(page.height, words.width, !in_middle && is_top(how.at), !in_middle && !is_top(how.at));
    if (at_left) return {0, 1, x, -1, 0, y + words.width}; // from bottom to top
    return {0, -1, x + words.height, 1, 0, y};
}

void draw_stamp(Raster& page, const std::string& words, const Stamp& how) {
    if (words.empty() || page.pixels.empty()) return;
    const auto pt = [&](int px) { return px_to_pt(px, page.dpi); };
    const Measured text = measured(words, how);
    const cv::Matx23d place = stamp_place(how, text.size, {pt(page.width_px()), pt(page.height_px())});
    const double px_per_point = page.dpi / points_per_inch;
    // Only the part of the page that contains the stamp is drawn.
    const cv::Point2d a(place(0, 2), place(1, 2)),
        b(place(0, 0) * text.size.width + place(0, 1) * text.size.height + place(0, 2),
          place(1, 0) * text.size.width + place(1, 1) * text.size.height + place(1, 2));
    const cv::Rect all(0, 0, page.width_px(), page.height_px());
    const cv::Rect field = cv::Rect(cv::Point(static_cast<int>(std::floor(std::min(a.x, b.x) * px_per_point)) - 1,
                                              static_cast<int>(std::floor(std::min(a.y, b.y) * px_per_point)) - 1),
                                    cv::Point(static_cast<int>(std::ceil(std::max(a.x, b.x) * px_per_point)) + 2,
                                              static_cast<int>(std::ceil(std::max(a.y, b.y) * px_per_point)) + 2)) &
                           all;
    if (field.empty()) return;
    const Surface surface(cairo_image_surface_create(CAIRO_FORMAT_A8, field.width, field.height));
    const Cairo cairo(cairo_create(surface.get()));
    cairo_translate(cairo.get(), -field.x, -field.y);
    cairo_scale(cairo.get(), px_per_point, px_per_point);
    const cairo_matrix_t matrix{place(0, 0), place(1, 0), place(0, 1), place(1, 1), place(0, 2), place(1, 2)};
    cairo_transform(cairo.get(), &matrix);
    choose_face(cairo.get(), how.size_pt);
    cairo_move_to(cairo.get(), 0, text.ascent);
    cairo_show_text(cairo.get(), words.c_str());
    cairo_surface_flush(surface.get());
    const cv::Mat ink(field.height, field.width, CV_8UC1, cairo_image_surface_get_data(surface.get()),
                      static_cast<size_t>(cairo_image_surface_get_stride(surface.get())));
    const Rgb colour = colour_of(how);
    page.pixels = page.pixels.clone(); // others may hold the same pixels
    cv::Mat under = page.pixels(field);
    if (page.ink == Ink::Black) {
        under.setTo(0, ink > 127);
        return;
    }
    const double grey = 0.299 * colour.red + 0.587 * colour.green + 0.114 * colour.blue; // ITU-R BT.601
    const cv::Scalar over =
        page.ink == Ink::Colour ? cv::Scalar(colour.blue, colour.green, colour.red) * 255.0 : cv::Scalar(grey * 255);
    for (int y = 0; y < field.height; ++y)
        for (int x = 0; x < field.width; ++x) {
            const double share = ink.at<uchar>(y, x) / 255.0;
            if (share <= 0) continue;
            uchar* pixel = under.ptr<uchar>(y) + static_cast<ptrdiff_t>(x) * under.channels();
            for (int c = 0; c < under.channels(); ++c)
                pixel[c] = cv::saturate_cast<uchar>(pixel[c] * (1 - share) + over[c] * share);
        }
}

std::string stamps_as_pdf(const std::vector<std::string>& words, const Stamp& how) {
    std::string bytes;
    {
        const Surface surface(cairo_pdf_surface_create_for_stream(take_bytes, &bytes, 10, 10));
        const Cairo cairo(cairo_create(surface.get()));
        const Rgb colour = colour_of(how);
        for (const std::string& each : words) {
            const Measured text = measured(each, how);
            cairo_pdf_surface_set_size(surface.get(), std::max(1.0, text.size.width), std::max(1.0, text.size.height));
            choose_face(cairo.get(), how.size_pt);
            cairo_set_source_rgb(cairo.get(), colour.red, colour.green, colour.blue);
            cairo_move_to(cairo.get(), 0, text.ascent);
            cairo_show_text(cairo.get(), each.c_str());
            cairo_show_page(cairo.get());
        }
        cairo_surface_finish(surface.get());
    }
    return bytes;
}

}
