#include "support/logos.h"

#include <array>
#include <cmath>
#include <functional>
#include <random>

namespace yelvin::test {

namespace {

constexpr double pi = 3.14159265358979;

// Draws within a square from 0 to `size` mm.
struct Brush {
    Sheet& sheet;
    std::mt19937& random;
    double size;

    double from(double least, double most) const {
        return least + (most - least) * static_cast<double>(random()) / static_cast<double>(std::mt19937::max());
    }
    int count(int least, int most) const { return least + static_cast<int>(from(0, 0.999) * (most - least + 1)); }
    cairo_t* pen() const { return sheet.pen(); }
    void stroke(double width) const {
        cairo_set_line_width(pen(), width);
        cairo_stroke(pen());
    }
};

void bars(const Brush& b) {
    const int n = b.count(2, 5);
    const double step = b.size / n, wide = step * b.from(0.3, 0.7), lean = b.from(-0.3, 0.3) * b.size;
    for (int i = 0; i < n; ++i) {
        const double top = b.from(0, 0.5) * b.size, x = i * step;
        cairo_move_to(b.pen(), x, b.size);
        cairo_line_to(b.pen(), x + wide, b.size);
        cairo_line_to(b.pen(), x + wide + lean, top);
        cairo_line_to(b.pen(), x + lean, top);
        cairo_fill(b.pen());
    }
}

void waves(const Brush& b) {
    const int n = b.count(2, 4);
    const double high = b.size / (2 * n), thick = b.from(0.1, 0.45) * b.size / n;
    for (int i = 0; i < n; ++i) {
        const double y = (i + 0.5) * b.size / n;
        cairo_move_to(b.pen(), 0, y);
        for (int k = 0; k < 3; ++k) cairo_rel_curve_to(b.pen(), b.size / 6, -high, b.size / 6, high, b.size / 3, 0);
        b.stroke(thick);
    }
}

void rings(const Brush& b) {
    const int n = b.count(1, 3);
    const double r = b.size / (1.2 + 0.8 * n), thick = r * b.from(0.12, 0.5);
    for (int i = 0; i < n; ++i) {
        cairo_arc(b.pen(), r + i * (b.size - 2 * r) / std::max(1, n - 1), b.size / 2, r - thick / 2, 0, 2 * pi);
        b.stroke(thick);
    }
}

void rays(const Brush& b) {
    const int n = b.count(5, 12);
    const double c = b.size / 2, from = b.size * b.from(0.1, 0.25), thick = b.from(0.03, 0.1) * b.size;
    for (int i = 0; i < n; ++i) {
        const double angle = i * 2 * pi / n;
        cairo_move_to(b.pen(), c + from * std::cos(angle), c + from * std::sin(angle));
        cairo_line_to(b.pen(), c + c * std::cos(angle), c + c * std::sin(angle));
        b.stroke(thick);
    }
}

void leaves(const Brush& b) {
    const int n = b.count(1, 3);
    for (int i = 0; i < n; ++i) {
        const double x = i * b.size / n, wide = b.size / n, bend = b.from(0.2, 0.9) * wide;
        cairo_move_to(b.pen(), x, b.size);
        cairo_curve_to(b.pen(), x, 0.3 * b.size, x + bend, 0, x + wide, 0);
        cairo_curve_to(b.pen(), x + wide, 0.6 * b.size, x + wide - bend / 2, b.size, x, b.size);
        cairo_fill(b.pen());
    }
}

void shield(const Brush& b) {
    const double w = 0.8 * b.size;
    cairo_move_to(b.pen(), 0, 0);
    cairo_line_to(b.pen(), w, 0);
    cairo_curve_to(b.pen(), w, 0.6 * b.size, 0.8 * w, 0.85 * b.size, w / 2, b.size);
    cairo_curve_to(b.pen(), 0.2 * w, 0.85 * b.size, 0, 0.6 * b.size, 0, 0);
    if (b.count(0, 1)) {
        cairo_fill(b.pen());
        b.sheet.colour({1, 1, 1});
    } else
        b.stroke(b.from(0.04, 0.12) * b.size);
    cairo_move_to(b.pen(), 0.2 * w, 0.35 * b.size);
    cairo_line_to(b.pen(), 0.5 * w, 0.6 * b.size);
    cairo_line_to(b.pen(), 0.8 * w, 0.35 * b.size);
    b.stroke(b.from(0.05, 0.15) * b.size);
}

void roofs(const Brush& b) {
    const int n = b.count(1, 3);
    for (int i = 0; i < n; ++i) {
        const double y = i * 0.3 * b.size;
        cairo_move_to(b.pen(), 0, y + 0.5 * b.size);
        cairo_line_to(b.pen(), b.size / 2, y);
        cairo_line_to(b.pen(), b.size, y + 0.5 * b.size);
        b.stroke(b.from(0.06, 0.16) * b.size);
    }
}

struct Kind {
    const char* name;
    std::function<void(const Brush&)> draw;
};
const std::array<Kind, 7> kinds{{{"bars", bars},
                                 {"waves", waves},
                                 {"rings", rings},
                                 {"rays", rays},
                                 {"leaves", leaves},
                                 {"shield", shield},
                                 {"roofs", roofs}}};

}

LogoPage logo_page(unsigned seed) {
    std::mt19937 random(seed);
    static const std::array inks{cv::Vec3d{0.1, 0.1, 0.1}, cv::Vec3d{0.5, 0.25, 0.1}, cv::Vec3d{0.2, 0.45, 0.15},
                                 cv::Vec3d{0.2, 0.15, 0.7}};
    const Look look{.face = seed % 2 ? "Liberation Sans" : "Liberation Serif", .points = 10};
    const Kind& kind = kinds.at(seed % kinds.size());
    auto placed = set_words(look, seed);
    std::erase_if(placed, [](const Placed& word) { return word.y < 40; });
    Sheet sheet(look.dpi);
    const double size = 6 + static_cast<double>(random() % 9), x = 14, y = 14; // mm
    const double gap = 1.5 + static_cast<double>(random() % 4);
    cairo_save(sheet.pen());
    cairo_translate(sheet.pen(), x, y);
    sheet.colour(inks.at(random() % inks.size()));
    kind.draw({sheet, random, size});
    cairo_restore(sheet.pen());
    sheet.colour(look.ink);
    Look heading = look;
    heading.points = 12 + static_cast<double>(random() % 6);
    heading.bold = random() % 2;
    sheet.face(heading);
    double at = x + size + gap;
    for (const char* word : {"Lower", "Basin", "Chandlery"}) {
        sheet.word(at, y + size / 2 + 1.5, word);
        at += sheet.wide(word) + sheet.wide(" ");
    }
    sheet.face(look);
    for (const Placed& word : placed) sheet.word(word.x, word.y, word.text);
    cv::Mat page = sheet.take(), bytes;
    cv::GaussianBlur(page, page, {}, 0.5);
    page.convertTo(bytes, CV_8UC3, 255);
    const double per_mm = look.dpi / 25.4;
    const cv::Rect logo(cv::Point2d((x - 1) * per_mm, (y - 1) * per_mm),
                        cv::Size2d((size + 1.5) * per_mm, (size + 2) * per_mm));
    return {kind.name, {bytes, look.dpi, Ink::Colour}, logo, placed};
}

}
