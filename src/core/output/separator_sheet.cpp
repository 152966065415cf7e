#include "core/output/separator_sheet.h"

#include "core/seeing/barcode.h"
#include "core/tray/stack.h"

#include <cairo-pdf.h>
#include <fmt/format.h>

#include <memory>

namespace yelvin {

namespace {

constexpr double a4_width_pt = 595.276, a4_height_pt = 841.890; // 210 mm x 297 mm

void write_words(cairo_t* cairo, double y, double size, const std::string& words) {
    cairo_select_font_face(cairo, "sans-serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, size);
    cairo_text_extents_t extents;
    cairo_text_extents(cairo, words.c_str(), &extents);
    if (extents.width > a4_width_pt - 80) cairo_set_font_size(cairo, size * (a4_width_pt - 80) / extents.width);
    cairo_text_extents(cairo, words.c_str(), &extents);
    cairo_move_to(cairo, (a4_width_pt - extents.width) / 2 - extents.x_bearing, y);
    cairo_show_text(cairo, words.c_str());
}

// Draws the code's modules as rectangles. The code is drawn in the middle of the page and again, rotated, at its foot,
// so that a fold or a clipped edge hides at most one.
void draw_code(cairo_t* cairo, const cv::Mat& code, double left, double top, double side) {
    const double module = side / code.cols;
    for (int y = 0; y < code.rows; ++y) {
        for (int x = 0; x < code.cols; ++x) {
            if (code.at<uchar>(y, x) == 0) cairo_rectangle(cairo, left + x * module, top + y * module, module, module);
        }
    }
    cairo_fill(cairo);
}

}

Result<void> write_separator_sheets(const std::filesystem::path& file, const std::vector<std::string>& texts) {
    std::vector<cv::Mat> codes;
    for (const std::string& text : texts) {
        const std::string content =
            text.empty() ? std::string(separator_mark) : fmt::format("{} {}", separator_mark, text);
        codes.push_back(text.size() > 200 ? cv::Mat() : qr_code(content));
        if (codes.back().empty())
            return fail(ErrorKind::BadInput,
                        fmt::format("“{}” is too long for a separator sheet; use at most 200 letters.", text));
    }
    const std::unique_ptr<cairo_surface_t, decltype([](cairo_surface_t* s) { cairo_surface_destroy(s); })> surface(
        cairo_pdf_surface_create(file.c_str(), a4_width_pt, a4_height_pt));
    const std::unique_ptr<cairo_t, decltype([](cairo_t* c) { cairo_destroy(c); })> cairo(cairo_create(surface.get()));
    for (size_t i = 0; i < texts.size(); ++i) {
        draw_code(cairo.get(), codes[i], (a4_width_pt - 260) / 2, 190, 260);
        draw_code(cairo.get(), codes[i], (a4_width_pt - 130) / 2, 610, 130);
        write_words(cairo.get(), 110, 34, texts[i].empty() ? "Next document" : texts[i]);
        write_words(cairo.get(), 150, 14,
                    "Put this sheet before the first page of a document. It is left out of the file.");
        cairo_show_page(cairo.get());
    }
    cairo_surface_finish(surface.get());
    if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS)
        return fail(ErrorKind::NotWritable, fmt::format("{} could not be saved: {}.", file.string(),
                                                        cairo_status_to_string(cairo_surface_status(surface.get()))));
    return {};
}

}
