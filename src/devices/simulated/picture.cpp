#include "devices/simulated/picture.h"

#include <cairo.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yelvin {

namespace {

cv::RNG random_of(const Wear& wear, int count) {
    return {static_cast<std::uint64_t>(count) * 77 + wear.seed + (wear.back ? 1000003U : 0U)};
}

void draw_dust(cairo_t* cairo, const PlacedPaper& paper) {
    cv::RNG random = random_of(paper.wear, paper.wear.dust);
    for (int i = 0; i < paper.wear.dust; ++i) {
        cairo_arc(cairo, random.uniform(0.0, paper.size.width), random.uniform(0.0, paper.size.height),
                  random.uniform(0.04, 0.12), 0, 2 * std::numbers::pi);
        cairo_set_source_rgba(cairo, 0.2, 0.2, 0.2, 0.7);
        cairo_fill(cairo);
    }
}

void draw_fibres(cairo_t* cairo, const PlacedPaper& paper) {
    cv::RNG random = random_of(paper.wear, paper.wear.fibres + 500);
    for (int i = 0; i < paper.wear.fibres; ++i) {
        const double length = random.uniform(1.0, 5.0), bend = length * random.uniform(-0.5, 0.5);
        cairo_save(cairo);
        cairo_translate(cairo, random.uniform(5.0, paper.size.width - 5), random.uniform(5.0, paper.size.height - 5));
        cairo_rotate(cairo, random.uniform(0.0, 2 * std::numbers::pi));
        cairo_move_to(cairo, -length / 2, 0);
        cairo_curve_to(cairo, -length / 4, bend, length / 4, random.uniform(-0.5, 1.0) * bend, length / 2, 0);
        cairo_set_line_width(cairo, random.uniform(0.03, 0.08));
        cairo_set_source_rgba(cairo, 0.2, 0.2, 0.2, 0.8);
        cairo_stroke(cairo);
        cairo_restore(cairo);
    }
}

// On one side of a fold the paper is inclined away from the lamp (darker), on the other towards it (lighter).
void draw_creases(cairo_t* cairo, const PlacedPaper& paper) {
    cv::RNG random(static_cast<std::uint64_t>(paper.wear.creases) * 31 + paper.wear.seed);
    for (int i = 0; i < paper.wear.creases; ++i) {
        const double x = random.uniform(0.2, 0.8) * paper.size.width, y = random.uniform(0.2, 0.8) * paper.size.height,
                     angle = random.uniform(0.0, std::numbers::pi), depth = random.uniform(0.08, 0.3),
                     soft_mm = random.uniform(0.15, 0.4), all = 6 * soft_mm;
        cairo_save(cairo);
        cairo_translate(cairo, paper.wear.back ? paper.size.width - x : x, y);
        cairo_rotate(cairo, paper.wear.back ? -angle : angle);
        cairo_pattern_t* shade = cairo_pattern_create_linear(0, -all, 0, all);
        for (int step = 0; step <= 48; ++step) {
            const double across = (step / 24.0 - 1) * all / soft_mm; // In standard deviations of the shadow.
            const double dark = depth * std::exp(-across * across / 2),
                         light = depth / 3 * std::exp(-(across - 2.5) * (across - 2.5) / 2);
            cairo_pattern_add_color_stop_rgba(shade, step / 48.0, light > dark, light > dark, light > dark,
                                              std::abs(dark - light));
        }
        const double reach = paper.size.width + paper.size.height;
        cairo_rectangle(cairo, -reach, -all, 2 * reach, 2 * all);
        cairo_set_source(cairo, shade);
        cairo_fill(cairo);
        cairo_pattern_destroy(shade);
        cairo_restore(cairo);
    }
}

void draw_paper(cairo_t* cairo, const PlacedPaper& paper) {
    const SizeMm size = paper.size;
    cairo_save(cairo);
    cairo_translate(cairo, paper.x_mm, paper.y_mm);
    cairo_rotate(cairo, paper.angle_degrees * std::numbers::pi / 180);
    cairo_translate(cairo, -size.width / 2, -size.height / 2);
    // The lamp is on one side, so the edge of the paper casts a thin shadow.
    cairo_rectangle(cairo, 0.15, 0.25, size.width, size.height);
    cairo_set_source_rgba(cairo, 0, 0, 0, 0.18);
    cairo_fill(cairo);
    cairo_rectangle(cairo, 0, 0, size.width, size.height);
    cairo_set_source_rgb(cairo, 1, 1, 1);
    cairo_fill_preserve(cairo);
    cairo_clip(cairo);
    if (paper.original) paper.original->draw(cairo);
    if (!paper.shine_through.empty()) {
        const cv::Mat& picture = paper.shine_through;
        cairo_surface_t* surface = cairo_image_surface_create_for_data(picture.data, CAIRO_FORMAT_RGB24, picture.cols,
                                                                       picture.rows, static_cast<int>(picture.step));
        cairo_save(cairo);
        cairo_scale(cairo, size.width / picture.cols, size.height / picture.rows);
        cairo_set_source_surface(cairo, surface, 0, 0);
        cairo_set_operator(cairo, CAIRO_OPERATOR_MULTIPLY);
        cairo_paint(cairo);
        cairo_restore(cairo);
        cairo_surface_destroy(surface);
    }
    if (paper.edge_shadow > 0) {
        cairo_pattern_t* shadow = cairo_pattern_create_linear(0, 0, 7, 0);
        cairo_pattern_add_color_stop_rgba(shadow, 0, 0, 0, 0, paper.edge_shadow);
        cairo_pattern_add_color_stop_rgba(shadow, 1, 0, 0, 0, 0);
        cairo_set_source(cairo, shadow);
        cairo_paint(cairo);
        cairo_pattern_destroy(shadow);
    }
    draw_creases(cairo, paper);
    draw_dust(cairo, paper);
    draw_fibres(cairo, paper);
    cairo_restore(cairo);
}

}

cv::Mat drawn(const Scene& scene, double dpi, int width_px, int first_row, int rows) {
    cv::Mat bgra(rows, width_px, CV_8UC4);
    cairo_surface_t* surface =
        cairo_image_surface_create_for_data(bgra.data, CAIRO_FORMAT_RGB24, width_px, rows, static_cast<int>(bgra.step));
    cairo_t* cairo = cairo_create(surface);
    const double background = scene.background / 255.0;
    cairo_set_source_rgb(cairo, background, background, background);
    cairo_paint(cairo);
    const double scale = dpi / mm_per_inch;
    cairo_translate(cairo, 0, -first_row);
    cairo_scale(cairo, scale, scale);
    cairo_translate(cairo, -scene.area.x, -scene.area.y);
    for (const PlacedPaper& paper : scene.papers) draw_paper(cairo, paper);
    cairo_destroy(cairo);
    cairo_surface_flush(surface);
    cairo_surface_destroy(surface);
    cv::Mat bgr;
    cv::cvtColor(bgra, bgr, cv::COLOR_BGRA2BGR);
    return bgr;
}

cv::Mat shine_through(const PaperOriginal& other_side, SizeMm size, double strength, double blur_mm) {
    const double dpi = std::clamp(30 / std::max(0.01, blur_mm), 60.0, 300.0); // A finer grid for a small blur.
    const int width = scanned_px(size.width, dpi), height = scanned_px(size.height, dpi);
    Scene scene;
    scene.background = 255;
    scene.area = {0, 0, size.width, size.height};
    scene.papers = {{other_side, size, size.width / 2, size.height / 2, 0, {}, 0, {}}};
    cv::Mat picture = drawn(scene, dpi, width, 0, height);
    cv::flip(picture, picture, 1);
    if (blur_mm > 0) cv::GaussianBlur(picture, picture, {0, 0}, mm_to_px(blur_mm, dpi));
    picture.convertTo(picture, -1, strength, 255 * (1 - strength));
    cv::cvtColor(picture, picture, cv::COLOR_BGR2BGRA);
    return picture;
}

}
