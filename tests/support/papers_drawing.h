// A sheet on which documents are drawn, and the words at their places as perfect OCR would return them.
#pragma once

#include "support/papers.h"

#include <cairo.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <sstream>

namespace yelvin::test {

inline std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) out += c == '&' ? "&amp;" : c == '<' ? "&lt;" : std::string(1, c);
    return out;
}

// The sheet that is being drawn; sizes in points, places in mm.
class Drawing {
  public:
    Drawing(const char* face, const std::string& language) : face_(face) { printed_.language = language; }
    void text(double x, double y, double pt, const std::string& words, const char* how = "") {
        const std::string_view asked = how;
        print(x, y, pt, words, asked);
        svg_ += fmt::format("<text x=\"{}\" y=\"{}\" font-family=\"{}\" font-size=\"{:.3f}\" fill=\"{}\" "
                            "font-weight=\"{}\" text-anchor=\"{}\">{}</text>\n",
                            x, y, face_, pt * 25.4 / 72, asked.contains('w') ? "#ffffff" : "#1c1c1e",
                            asked.contains('b') ? "bold" : "normal",
                            asked.contains('r')   ? "end"
                            : asked.contains('c') ? "middle"
                                                  : "start",
                            escaped(words));
    }
    void shape(const std::string& element) { svg_ += element + "\n"; }
    std::string whole() const {
        return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"210mm\" height=\"297mm\" viewBox=\"0 0 210 297\">\n"
               "<rect width=\"210\" height=\"297\" fill=\"#fdfcfa\"/>\n" +
               svg_ + "</svg>\n";
    }

    const TextLayer& printed() const { return printed_; }

  private:
    const char* face_;
    std::string svg_;
    TextLayer printed_{{}, px(210), px(297), {}};

    static int px(double mm) { return static_cast<int>(std::lround(mm * printed_dpi / 25.4)); }

    // The words at their places, as perfect OCR would return them.
    void print(double x, double y, double pt, const std::string& words, std::string_view how) {
        const std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)> surface(
            cairo_image_surface_create(CAIRO_FORMAT_A8, 1, 1), cairo_surface_destroy);
        const std::unique_ptr<cairo_t, decltype(&cairo_destroy)> pen(cairo_create(surface.get()), cairo_destroy);
        cairo_select_font_face(pen.get(), face_, CAIRO_FONT_SLANT_NORMAL,
                               how.contains('b') ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
        cairo_set_font_size(pen.get(), pt * 25.4 / 72);
        const auto wide = [&](const std::string& text) {
            cairo_text_extents_t extents;
            cairo_text_extents(pen.get(), text.c_str(), &extents);
            return extents.x_advance;
        };
        const double whole = wide(words), tall = pt * 25.4 / 72 * 0.72;
        double at = how.contains('r') ? x - whole : how.contains('c') ? x - whole / 2 : x;
        TextLine line;
        line.language = printed_.language;
        line.ascent_px = tall * printed_dpi / 25.4;
        std::istringstream in(words);
        for (std::string word; in >> word; at += wide(word + " "))
            line.words.push_back({word,
                                  {px(at), px(y - tall), std::max(1, px(wide(word))), std::max(1, px(tall))},
                                  96,
                                  how.contains('b')});
        printed_.lines.push_back(std::move(line));
    }
};

inline std::string upper(std::string text) {
    for (const auto& [small, capital] :
         {std::pair{"ü", "Ü"}, {"ä", "Ä"}, {"ö", "Ö"}, {"é", "É"}, {"ß", "SS"}, {"è", "È"}})
        for (size_t at = text.find(small); at != std::string::npos; at = text.find(small)) text.replace(at, 2, capital);
    std::ranges::transform(text, text.begin(), [](unsigned char c) { return c < 0x80 ? std::toupper(c) : c; });
    return text;
}

}
