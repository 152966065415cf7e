#include "core/ocr/passed_over.h"

#include "core/raster/ink_pieces.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace yelvin {

namespace {

constexpr int lightest_ink = 210; // pixels below this level are ink

cv::Rect extent_of_words(const TextLine& line) {
    cv::Rect all;
    for (const Word& word : line.words) all |= word.box;
    return all;
}

double baseline_at(const TextLine& line, double x) {
    const cv::Point2d along = line.baseline_end - line.baseline_start;
    return line.baseline_start.y + along.y * (x - line.baseline_start.x) / std::max(1.0, along.x);
}

// A recognised line and the part of the page that it covers.
struct Read {
    const TextLine* line;
    cv::Rect band;
};

std::vector<Read> what_was_read(const TextLayer& layer) {
    std::vector<Read> out;
    for (const TextLine& line : layer.lines) {
        const cv::Rect words = extent_of_words(line);
        const auto side = static_cast<int>(line.ascent_px);
        const double top = std::min(line.baseline_start.y, line.baseline_end.y) - line.ascent_px;
        const double bottom =
            std::max(line.baseline_start.y, line.baseline_end.y) + std::max(line.descent_px, 0.35 * line.ascent_px);
        const cv::Rect band{cv::Point{words.x - side, static_cast<int>(top)},
                            cv::Point{words.br().x + side, static_cast<int>(std::ceil(bottom))}};
        out.push_back({&line, band | words});
    }
    return out;
}

// Returns the line above or below to which these pieces of ink would be adjacent: it is at least as wide and at most
// one line spacing away.
const TextLine* neighbour_of(const cv::Rect& ink, double base, const std::vector<Read>& lines) {
    const TextLine* best = nullptr;
    double nearest = 0;
    for (const Read& each : lines) {
        const double tall = each.line->ascent_px;
        const double x = ink.x + ink.width / 2.0, away = std::abs(base - baseline_at(*each.line, x));
        if (away < 0.9 * tall || away > 3 * tall || ink.x < each.band.x || ink.br().x > each.band.br().x) continue;
        if (best && away >= nearest) continue;
        best = each.line;
        nearest = away;
    }
    return best;
}

// Pieces of ink side by side, from left to right.
struct Row {
    std::vector<cv::Rect> pieces;
    cv::Rect all;
    double base() const { // The median, because most letters stand on the baseline.
        std::vector<int> bottoms;
        for (const cv::Rect& each : pieces) bottoms.push_back(each.br().y);
        const auto middle = bottoms.begin() + static_cast<long>(bottoms.size() / 2);
        std::ranges::nth_element(bottoms, middle);
        return *middle;
    }
};

std::vector<Row> in_rows(std::vector<cv::Rect> pieces, double tall) {
    std::ranges::sort(pieces, {}, &cv::Rect::x);
    std::vector<Row> rows;
    for (const cv::Rect& piece : pieces) {
        const auto beside = std::ranges::find_if(rows, [&](const Row& row) {
            const cv::Rect& last = row.pieces.back();
            const int shared = std::min(last.br().y, piece.br().y) - std::max(last.y, piece.y);
            return piece.x - row.all.br().x < 1.2 * tall && 2 * shared >= std::min(last.height, piece.height);
        });
        Row& row = beside == rows.end() ? rows.emplace_back() : *beside;
        row.pieces.push_back(piece);
        row.all |= piece;
    }
    return rows;
}

// Whether the row may be a line of text. Letters on coarse scans are broken into pieces, so the whole row is judged: it
// must be as tall as a line and wider than a mark.
bool looks_like_a_line(const Row& row, double tall) {
    return row.pieces.size() >= 3 && row.all.height >= 0.6 * tall && row.all.height <= 1.6 * tall &&
           row.all.width >= 1.5 * tall;
}

std::vector<cv::Rect> ink_between(const Raster& page, const std::vector<Read>& lines, double tall) {
    cv::Mat row;
    const InkPieces ink(page.pixels.size(), [&](int y) {
        row = page.pixels.row(y) < lightest_ink;
        for (const Read& each : lines)
            if (y >= each.band.y && y < each.band.br().y)
                row.colRange(std::clamp(each.band.x, 0, row.cols), std::clamp(each.band.br().x, 0, row.cols)).setTo(0);
        return row.ptr();
    });
    std::vector<cv::Rect> pieces;
    for (const auto& [box, area] : ink.pieces())
        if (box.height >= 0.25 * tall && box.height <= 1.6 * tall && box.width <= 3 * tall) pieces.push_back(box);
    return pieces;
}

}

std::vector<TextLine> passed_over_lines(const Raster& page, const TextLayer& layer) {
    if (layer.lines.empty()) return {};
    std::vector<double> ascents;
    for (const TextLine& line : layer.lines) ascents.push_back(line.ascent_px);
    const auto middle = ascents.begin() + static_cast<long>(ascents.size() / 2);
    std::ranges::nth_element(ascents, middle);
    const double usual = *middle;
    const std::vector<Read> lines = what_was_read(layer);
    std::vector<TextLine> out;
    constexpr size_t most_pieces = 600; // More pieces mean a picture or a halftone.
    const auto pieces = ink_between(page, lines, usual);
    if (pieces.size() > most_pieces) return {};
    for (const Row& row : in_rows(pieces, usual)) {
        const double base = row.base();
        const TextLine* beside = neighbour_of(row.all, base, lines);
        if (!beside || !looks_like_a_line(row, beside->ascent_px)) continue;
        const double left = row.all.x, right = row.all.br().x,
                     slope = baseline_at(*beside, 1) - baseline_at(*beside, 0);
        TextLine line;
        line.words = {{"?", row.all, 0}};
        line.baseline_start = {left, base - slope * (right - left) / 2};
        line.baseline_end = {right, base + slope * (right - left) / 2};
        line.ascent_px = beside->ascent_px;
        line.descent_px = beside->descent_px;
        line.language = beside->language;
        out.push_back(std::move(line));
    }
    return out;
}

}
