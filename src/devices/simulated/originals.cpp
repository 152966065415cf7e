#include "devices/simulated/originals.h"

#include "core/raster/image_file.h"

#include <cairo.h>
#include <fmt/format.h>
#include <librsvg/rsvg.h>
#include <opencv2/imgproc.hpp>

namespace yelvin {

struct PaperOriginal::Content {
    struct Release {
        void operator()(RsvgHandle* handle) const { g_object_unref(handle); }
        void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    };
    std::unique_ptr<RsvgHandle, Release> drawing;
    cv::Mat picture; // BGRA, referred to by the surface
    std::unique_ptr<cairo_surface_t, Release> surface;
};

Result<PaperOriginal> PaperOriginal::load(const std::filesystem::path& file, int page_index) {
    auto content = std::make_shared<Content>();
    PaperOriginal original;
    if (file.extension() == ".svg") {
        GError* error = nullptr;
        content->drawing.reset(rsvg_handle_new_from_file(file.c_str(), &error));
        const std::string detail = error ? error->message : "";
        g_clear_error(&error);
        if (!content->drawing)
            return fail(ErrorKind::BadInput,
                        fmt::format("The drawing {} cannot be read; choose another original.", file.string()), detail);
        constexpr double css_dpi = 96; // CSS: 96 px are an inch
        rsvg_handle_set_dpi(content->drawing.get(), css_dpi);
        double width = 0, height = 0;
        if (!rsvg_handle_get_intrinsic_size_in_pixels(content->drawing.get(), &width, &height) || width <= 0 ||
            height <= 0) {
            return fail(ErrorKind::BadInput,
                        fmt::format("The drawing {} does not say its size in mm; give it a width and a height.",
                                    file.string()));
        }
        original.size_ = {px_to_mm(width, css_dpi), px_to_mm(height, css_dpi)};
    } else {
        const auto page = read_page(file, page_index);
        if (!page) return std::unexpected(page.error());
        const int code = page->raster.pixels.channels() == 3 ? cv::COLOR_BGR2BGRA : cv::COLOR_GRAY2BGRA;
        cv::cvtColor(page->raster.pixels, content->picture, code);
        content->surface.reset(cairo_image_surface_create_for_data(content->picture.data, CAIRO_FORMAT_RGB24,
                                                                   content->picture.cols, content->picture.rows,
                                                                   static_cast<int>(content->picture.step)));
        original.size_ = page->raster.size_mm();
    }
    original.content_ = std::move(content);
    return original;
}

void PaperOriginal::draw(cairo_t* cairo) const {
    if (content_->drawing) {
        const RsvgRectangle whole{0, 0, size_.width, size_.height};
        rsvg_handle_render_document(content_->drawing.get(), cairo, &whole, nullptr);
        return;
    }
    cairo_save(cairo);
    cairo_scale(cairo, size_.width / content_->picture.cols, size_.height / content_->picture.rows);
    cairo_set_source_surface(cairo, content_->surface.get(), 0, 0);
    cairo_pattern_set_filter(cairo_get_source(cairo), CAIRO_FILTER_GOOD);
    cairo_paint(cairo);
    cairo_restore(cairo);
}

}
