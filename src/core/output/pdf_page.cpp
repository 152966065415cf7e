#include "core/output/pdf_page.h"

#include "core/raster/units.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

// A run of text stretched so that it fills `width_pt` from the current place.
std::string stretched(const GlyphlessCodes::Encoded& text, double width_pt, double size_pt) {
    const double natural = text.count * size_pt * glyph_width / 1000.0;
    return fmt::format("{:.3f} Tz <{}> Tj\n", 100 * width_pt / natural, text.hex);
}

std::string line_content(const TextLine& line, double height_pt, double dpi, GlyphlessCodes& codes) {
    const auto pt = [dpi](double px) { return px_to_pt(px, dpi); };
    const cv::Point2d along = line.baseline_end - line.baseline_start;
    const double slope = along.x > 1 ? along.y / along.x : 0;
    const double stretch = std::hypot(1.0, slope), c = 1 / stretch, s = -slope / stretch; // y points up in PDF
    const double size = std::max(1.0, pt(std::max(line.ascent_px / font_ascent,
                                                  (line.ascent_px + line.descent_px) / (font_ascent + font_descent))));
    std::string out = fmt::format("/F0 {:.3f} Tf\n", size);
    for (size_t i = 0; i < line.words.size(); ++i) {
        const Word& word = line.words[i];
        const auto encoded = codes.encode(word.text);
        if (encoded.count == 0 || word.box.width <= 0) continue;
        const double base = line.baseline_start.y + slope * (word.box.x - line.baseline_start.x);
        out += fmt::format("{:.5f} {:.5f} {:.5f} {:.5f} {:.3f} {:.3f} Tm ", c, s, -s, c, pt(word.box.x),
                           height_pt - pt(base));
        out += stretched(encoded, pt(word.box.width) * stretch, size);
        if (i + 1 == line.words.size()) continue;
        const double gap = pt(line.words[i + 1].box.x - word.box.br().x) * stretch;
        if (gap > 0) out += stretched(codes.encode(" "), gap, size);
    }
    return out;
}

}

std::string page_content(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes) {
    std::string out = fmt::format("q {:.4f} 0 0 {:.4f} 0 0 cm /Im0 Do Q\n", width_pt, height_pt);
    if (text.lines.empty()) return out;
    out += "BT 3 Tr\n";
    for (const TextLine& line : text.lines) out += line_content(line, height_pt, dpi, codes);
    return out + "ET\n";
}

}
