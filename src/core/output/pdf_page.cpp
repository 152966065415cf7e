#include "core/output/pdf_page.h"

#include "core/raster/units.h"
#include "core/text/word_order.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

// Returns a run of text stretched to `width_pt` from the current position.
std::string stretched(const GlyphlessCodes::Encoded& text, double width_pt, double size_pt) {
    const double natural = text.count * size_pt * glyph_width / 1000.0;
    return fmt::format("{:.3f} Tz <{}> Tj\n", 100 * width_pt / natural, text.hex);
}

// Returns the words in visual order. Other programs put right-to-left text into logical order themselves.
std::vector<const Word*> from_left_to_right(const TextLine& line) {
    std::vector<const Word*> words;
    for (const Word& word : line.words) words.push_back(&word);
    if (runs_right_to_left(line)) std::ranges::stable_sort(words, {}, [](const Word* w) { return w->box.x; });
    return words;
}

// Tracks the open marked-content sequence (ISO 32000-2, 14.6).
class OpenMark {
  public:
    explicit OpenMark(const PdfTags* tags) : tags_(tags) {}
    // Returns the operators that switch to the given mark; -1 means none.
    std::string go_on_in(int mark) {
        if (mark == open_) return {};
        std::string out = open_ >= 0 ? "EMC\n" : "";
        open_ = mark;
        if (mark >= 0) out += fmt::format("/{} <</MCID {}>> BDC\n", tags_->marks[static_cast<size_t>(mark)], mark);
        return out;
    }
    std::string go_on_at(size_t line, size_t word) { return tags_ ? go_on_in(tags_->of_words[line][word]) : ""; }
    bool marks() const { return tags_ != nullptr; }

  private:
    const PdfTags* tags_;
    int open_ = -1;
};

std::string line_content(const TextLayer& text, size_t number, double height_pt, double dpi, GlyphlessCodes& codes,
                         OpenMark& open, const std::string& font) {
    const TextLine& line = text.lines[number];
    const auto pt = [dpi](double px) { return px_to_pt(px, dpi); };
    const cv::Point2d along = line.baseline_end - line.baseline_start;
    const double slope = along.x > 1 ? along.y / along.x : 0;
    const double stretch = std::hypot(1.0, slope), c = 1 / stretch, s = -slope / stretch; // y points up in PDF
    const double size = std::max(1.0, pt(std::max(line.ascent_px / font_ascent,
                                                  (line.ascent_px + line.descent_px) / (font_ascent + font_descent))));
    std::string out = fmt::format("{} {:.3f} Tf\n", font, size);
    const auto words = from_left_to_right(line);
    for (size_t i = 0; i < words.size(); ++i) {
        const Word& word = *words[i];
        out += open.go_on_at(number, static_cast<size_t>(&word - line.words.data()));
        const auto encoded = codes.encode(in_visual_order(word.text));
        if (encoded.count == 0 || word.box.width <= 0) continue;
        const double base = line.baseline_start.y + slope * (word.box.x - line.baseline_start.x);
        out += fmt::format("{:.5f} {:.5f} {:.5f} {:.5f} {:.3f} {:.3f} Tm ", c, s, -s, c, pt(word.box.x),
                           height_pt - pt(base));
        const bool last = i + 1 == words.size();
        const int gap_px = last ? 0 : words[i + 1]->box.x - word.box.br().x;
        const double wide = pt(word.box.width) * stretch, gap = pt(gap_px) * stretch;
        // If no space belongs between two words, the first extends to the second, so that programs do not infer one.
        const bool adjoins = !last && gap_px < line.ascent_px && space_between(word, *words[i + 1]).empty();
        out += stretched(encoded, adjoins && gap > 0 ? wide + gap : wide, size);
        if (gap > 0 && !adjoins) out += stretched(codes.encode(" "), gap, size);
        // Programs that use marked content ignore the ends of lines, so a space is added (ISO 32000-2, 14.8.2.6).
        if (last && open.marks() && !word.text.ends_with('-')) out += stretched(codes.encode(" "), 0.1 * size, size);
    }
    return out;
}

// Returns the matrix that rotates a page of this size clockwise by 90, 180 or 270 degrees.
std::string turn(int degrees, double width_pt, double height_pt) {
    switch (degrees) {
    case 90:
        return fmt::format("0 -1 1 0 0 {:.4f}", width_pt);
    case 180:
        return fmt::format("-1 0 0 -1 {:.4f} {:.4f}", width_pt, height_pt);
    default:
        return fmt::format("0 1 -1 0 {:.4f} 0", height_pt);
    }
}

// Returns the content that shows all lines as invisible text. It restores the text state (ISO 32000-2, 9.3.1).
std::string all_lines(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes,
                      OpenMark& open, const std::string& font) {
    // The lines of a page that was rotated after recognition are laid out upright and then rotated.
    const bool sideways = text.turned_degrees % 180 != 0;
    const double upright_width = sideways ? height_pt : width_pt, upright_height = sideways ? width_pt : height_pt;
    std::string out = "q\n";
    if (text.turned_degrees != 0)
        out += fmt::format("{} cm\n", turn(text.turned_degrees, upright_width, upright_height));
    out += "BT 3 Tr\n";
    for (size_t i = 0; i < text.lines.size(); ++i) out += line_content(text, i, upright_height, dpi, codes, open, font);
    out += open.go_on_in(-1);
    out += "ET\nQ\n";
    return out;
}

}

std::string page_content(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes,
                         const PdfTags* tags) {
    OpenMark open(tags);
    std::string out = !tags ? "" : tags->is_figure ? open.go_on_in(0) : "/Artifact BMC\n";
    out += fmt::format("q {:.4f} 0 0 {:.4f} 0 0 cm /Im0 Do Q\n", width_pt, height_pt);
    if (tags) out += tags->is_figure ? open.go_on_in(-1) : "EMC\n";
    if (text.lines.empty()) return out;
    out += all_lines(width_pt, height_pt, dpi, text, codes, open, "/F0");
    // A figure is part of the page's single picture. A path that paints nothing marks its position.
    for (const PdfTag& block : tags ? tags->blocks : std::vector<PdfTag>{}) {
        if (!block.box) continue;
        const auto pt = [dpi](double px) { return px_to_pt(px, dpi); };
        out += open.go_on_in(block.marks.front()) +
               fmt::format("{:.3f} {:.3f} {:.3f} {:.3f} re n\n", pt(block.box->x), height_pt - pt(block.box->br().y),
                           pt(block.box->width), pt(block.box->height)) +
               open.go_on_in(-1);
    }
    return out;
}

std::string words_content(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes,
                          const std::string& font) {
    OpenMark none(nullptr);
    return all_lines(width_pt, height_pt, dpi, text, codes, none, font);
}

}
