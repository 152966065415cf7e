// The arrangement of the blocks and lines of a page in columns and bands.
#include "core/output/flow.h"
#include "core/text/text_places.h"

#include <algorithm>
#include <array>
#include <span>

namespace yelvin {

namespace {

constexpr double beside_mm = 1.5; // columns may reach into each other by so much

double right_of(const RectMm& place) { return place.x + place.width; }
double bottom_of(const RectMm& place) { return place.y + place.height; }

// Whether the text continues in a new column: higher up and beside the previous block.
bool begins_column(const RectMm& before, const RectMm& now) {
    return now.y < bottom_of(before) - beside_mm && now.x > right_of(before) - beside_mm;
}

FlowColumn column_of(const std::vector<RectMm>& places, size_t first, size_t last) {
    FlowColumn column{first, places[first].x, right_of(places[first])};
    for (size_t i = first; i <= last; ++i) {
        column.left = std::min(column.left, places[i].x);
        column.right = std::max(column.right, right_of(places[i]));
    }
    return column;
}

// Returns a band that begins with a column, which ends at `last`. The blocks after it belong to the band as long as
// they are beside it.
FlowBand band_from(const std::vector<RectMm>& places, size_t first, size_t last) {
    FlowBand band{first, 0, {column_of(places, first, last)}};
    size_t next = last + 1;
    while (next < places.size() && begins_column(places[next - 1], places[next])) {
        const double left_ends = band.columns.back().right;
        size_t end = next;
        while (end + 1 < places.size() && places[end + 1].x > left_ends - beside_mm &&
               !begins_column(places[end], places[end + 1]))
            ++end;
        band.columns.push_back(column_of(places, next, end));
        next = end + 1;
    }
    band.count = next - first;
    return band;
}

// Advance widths of U+0020 to U+007E in thousandths of an em: Liberation Serif 2.1, its hmtx table.
constexpr std::array<int, 95> serif_widths{
    250, 333, 408, 500, 500, 833, 778, 180, 333, 333, 500, 564, 250, 333, 250, 278, 500, 500, 500,
    500, 500, 500, 500, 500, 500, 500, 278, 278, 564, 564, 564, 444, 921, 722, 667, 667, 722, 611,
    556, 722, 722, 333, 389, 722, 611, 889, 722, 722, 556, 722, 667, 556, 611, 722, 722, 944, 722,
    722, 611, 333, 278, 333, 469, 500, 333, 444, 500, 444, 500, 444, 333, 500, 500, 278, 278, 500,
    278, 778, 500, 500, 500, 500, 333, 389, 278, 500, 500, 722, 500, 500, 444, 480, 200, 480, 541};

double natural_width_em(const std::string& text) {
    double width = 0;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte >= 0x20 && byte < 0x7F) width += serif_widths[byte - 0x20] / 1000.0;
        if (byte >= 0xC0) width += 0.5; // begins a letter of more than one byte
    }
    return width;
}

}

std::vector<FlowBand> bands_of(const std::vector<RectMm>& places) {
    std::vector<FlowBand> bands;
    size_t alone = 0; // The first block since which none stands beside another.
    const auto close = [&](size_t end) {
        if (end > alone) bands.push_back({alone, end - alone, {column_of(places, alone, end - 1)}});
    };
    for (size_t i = 0; i + 1 < places.size();) {
        if (!begins_column(places[i], places[i + 1])) {
            ++i;
            continue;
        }
        // The first column includes all earlier blocks that are beside the next column.
        size_t first = i;
        const RectMm& next = places[i + 1];
        while (first > alone && bottom_of(places[first - 1]) > next.y + beside_mm &&
               right_of(places[first - 1]) < next.x + beside_mm)
            --first;
        close(first);
        bands.push_back(band_from(places, first, i));
        alone = first + bands.back().count;
        i = alone;
    }
    close(places.size());
    return bands;
}

namespace {

// Returns a part of a line without wide gaps, such as a table cell.
FlowLine part_in_place(const TextLayer& layer, const TextLine& line, std::span<const Word> words, double dpi) {
    const auto mm = [dpi](double px) { return px * mm_per_inch / dpi; };
    FlowLine out;
    cv::Rect box = words.front().box;
    double natural = 0;
    for (const Word& word : words) {
        box |= word.box;
        const bool same = !out.runs.empty() && out.runs.back().bold == word.bold;
        if (!out.runs.empty()) out.runs.back().text += " ";
        if (!same) out.runs.push_back({"", word.bold});
        out.runs.back().text += word.text;
    }
    for (const FlowRun& run : out.runs) natural += natural_width_em(run.text);
    const cv::Rect2d at = on_page(box, layer);
    out.place = {mm(at.x), mm(at.y), mm(at.width), mm(at.height)};
    const bool upright = layer.turned_degrees == 0;
    out.baseline = upright ? mm((line.baseline_start.y + line.baseline_end.y) / 2) : mm(at.br().y);
    out.size_pt = std::clamp(std::round(px_to_pt(line.ascent_px + line.descent_px, dpi) * 2) / 2, 4.0, 96.0);
    if (natural > 0) out.stretched = std::clamp(mm_to_pt(out.place.width) / (natural * out.size_pt), 0.5, 2.0);
    out.language = line.language;
    return out;
}

}

std::vector<FlowLine> lines_in_place(const PageText& text, double dpi) {
    std::vector<FlowLine> lines;
    for (const TextLine& line : text.layer.lines) {
        const std::span<const Word> words(line.words);
        const double wide = 2 * line.ascent_px;
        for (size_t first = 0; first < words.size();) {
            size_t end = first + 1;
            while (end < words.size() && std::abs(words[end].box.x - words[end - 1].box.br().x) < wide) ++end;
            lines.push_back(part_in_place(text.layer, line, words.subspan(first, end - first), dpi));
            first = end;
        }
    }
    return lines;
}

}
