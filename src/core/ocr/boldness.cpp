#include "core/ocr/boldness.h"

#include <algorithm>
#include <vector>

namespace yelvin {

namespace {

constexpr double bold_against_usual = 1.35; // strokes of bold faces: 1.4 to 1.9 times those of their regular ones
constexpr size_t least_words = 8;           // Fewer words do not show the usual thickness.

// Returns the typical stroke width of the word, in line heights: the median length of the ink runs that its rows cross.
// 0: no ink.
double stroke_of(const Word& word, const TextLine& line, const cv::Mat& grey) {
    const cv::Rect part = word.box & cv::Rect{{}, grey.size()};
    const auto height = static_cast<size_t>(std::max(1.0, line.ascent_px));
    std::vector<int> runs(2 * height, 0);
    int all = 0;
    for (int y = part.y; y < part.br().y; ++y) {
        const uchar* row = grey.ptr(y);
        for (int x = part.x; x < part.br().x; ++x) {
            int run = 0;
            while (x + run < part.br().x && row[x + run] < 128) ++run;
            if (run == 0) continue;
            if (static_cast<size_t>(run) < runs.size()) ++runs[static_cast<size_t>(run)], ++all;
            x += run;
        }
    }
    int seen = 0;
    for (size_t run = 1; run < runs.size(); ++run) {
        const int before = seen;
        seen += runs[run];
        if (2 * seen < all) continue;
        // Interpolates between whole pixels.
        return (static_cast<double>(run) - 0.5 + (all / 2.0 - before) / std::max(1, runs[run])) / line.ascent_px;
    }
    return 0;
}

}

void mark_bold(TextLayer& layer, const cv::Mat& grey) {
    std::vector<double> strokes;
    for (const TextLine& line : layer.lines)
        for (const Word& word : line.words) strokes.push_back(stroke_of(word, line, grey));
    if (strokes.size() < least_words) return;
    std::vector<double> sorted = strokes;
    const auto middle = sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2);
    std::ranges::nth_element(sorted, middle);
    size_t i = 0;
    for (TextLine& line : layer.lines)
        for (Word& word : line.words) word.bold = strokes[i++] > bold_against_usual * *middle;
}

}
