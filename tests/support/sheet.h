// A sheet of paper that is drawn for a test: typeset words with known places and order.
#pragma once

#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include <cairo.h>

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace yelvin::test {

inline constexpr double width_mm = 150, height_mm = 110;

struct Look {
    const char* face = "Liberation Serif";
    double points = 10;
    bool bold = false, italic = false;
    double dpi = 300;
    cv::Vec3d paper{1, 1, 1}, ink{0.08, 0.08, 0.08}; // shares of white, BGR
};

using Surface = std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)>;
using Pen = std::unique_ptr<cairo_t, decltype(&cairo_destroy)>;

// A page that is drawn at twice its resolution, in millimetres; `take` returns it at its own, as shares of white.
class Sheet {
  public:
    explicit Sheet(double dpi)
        : dpi_(dpi), surface_(cairo_image_surface_create(CAIRO_FORMAT_RGB24, to_px(width_mm), to_px(height_mm)),
                              cairo_surface_destroy),
          pen_(cairo_create(surface_.get()), cairo_destroy) {
        cairo_scale(pen_.get(), 2 * dpi / 25.4, 2 * dpi / 25.4);
        colour({1, 1, 1});
        cairo_paint(pen_.get());
    }
    cairo_t* pen() { return pen_.get(); }
    void colour(const cv::Vec3d& c) { cairo_set_source_rgb(pen_.get(), c[2], c[1], c[0]); }
    void box(const cv::Rect2d& r) {
        cairo_rectangle(pen_.get(), r.x, r.y, r.width, r.height);
        cairo_fill(pen_.get());
    }
    void rule(cv::Point2d a, cv::Point2d b, double width) {
        cairo_set_line_width(pen_.get(), width);
        cairo_move_to(pen_.get(), a.x, a.y);
        cairo_line_to(pen_.get(), b.x, b.y);
        cairo_stroke(pen_.get());
    }
    void face(const Look& look) {
        cairo_select_font_face(pen_.get(), look.face, look.italic ? CAIRO_FONT_SLANT_ITALIC : CAIRO_FONT_SLANT_NORMAL,
                               look.bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
        cairo_set_font_size(pen_.get(), look.points * 25.4 / 72);
    }
    double wide(const std::string& word) {
        cairo_text_extents_t extents;
        cairo_text_extents(pen_.get(), word.c_str(), &extents);
        return extents.x_advance;
    }
    void word(double x, double y, const std::string& text) {
        cairo_move_to(pen_.get(), x, y);
        cairo_show_text(pen_.get(), text.c_str());
    }
    cv::Mat take() {
        cairo_surface_flush(surface_.get());
        const cv::Mat drawn(to_px(height_mm), to_px(width_mm), CV_8UC4, cairo_image_surface_get_data(surface_.get()),
                            static_cast<size_t>(cairo_image_surface_get_stride(surface_.get())));
        cv::Mat bgr, small;
        cv::cvtColor(drawn, bgr, cv::COLOR_BGRA2BGR);
        cv::resize(bgr, small, {bgr.cols / 2, bgr.rows / 2}, 0, 0, cv::INTER_AREA);
        small.convertTo(small, CV_32FC3, 1 / 255.0);
        return small;
    }

  private:
    double dpi_;
    Surface surface_;
    Pen pen_;
    int to_px(double mm) const { return 2 * static_cast<int>(mm * dpi_ / 25.4); }
};

struct Placed {
    std::string text;
    double x, y;
    int line;
};

// Invented sentences of a harbour office, each of them once.
std::vector<std::string> harbour_sentences(unsigned seed);
// The words of sentences set ragged right in a column, three sentences in a paragraph, until it is full.
std::vector<Placed> set_words(const Look& look, const std::vector<std::string>& sentences_in_order);
std::vector<Placed> set_words(const Look& look, unsigned seed); // of the harbour office
std::vector<std::string> words_of(const std::vector<Placed>& placed);

// The sheet as shares of white, CV_32FC3; `before` draws below the words, `each` is called before each of them.
cv::Mat draw(const Look& look, const std::vector<Placed>& placed, const std::function<void(Sheet&)>& before = {},
             const std::function<void(Sheet&, const Placed&)>& each = {});

}
