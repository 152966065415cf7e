#include "core/seeing/traces.h"

#include "core/raster/ink_pieces.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

// Marks the runs along rows that are at least `length` long, gaps of up to `gap` dots bridged.
void mark_runs(const cv::Mat& mask, cv::Mat& lines, int length, int gap) {
    for (int y = 0; y < mask.rows; ++y) {
        const uchar* row = mask.ptr(y);
        uchar* out = lines.ptr(y);
        int begin = -1, last = -1; // of the run under way
        for (int x = 0; x <= mask.cols; ++x) {
            const bool ends = begin >= 0 && (x == mask.cols || x - last > gap);
            if (ends) {
                if (last - begin + 1 >= length) std::fill(out + begin, out + last + 1, uchar{255});
                begin = -1;
            }
            if (x < mask.cols && row[x]) {
                if (begin < 0) begin = x;
                last = x;
            }
        }
    }
}

// Creases, folds and rules: runs of 8 mm along or across, which no letter has. A little slant still counts.
cv::Mat without_long_lines(const cv::Mat& mask, double dpi) {
    const int length = static_cast<int>(mm_to_px(8, dpi));
    // Paper's grain breaks a faint line; a gap of half a millimetre is bridged.
    const int gap = std::max(1, static_cast<int>(mm_to_px(0.5, dpi)));
    cv::Mat lines(mask.size(), CV_8UC1, cv::Scalar(0)), turned, across(mask.cols, mask.rows, CV_8UC1, cv::Scalar(0)),
        left;
    mark_runs(mask, lines, length, gap);
    cv::transpose(mask, turned);
    mark_runs(turned, across, length, gap);
    cv::transpose(across, turned);
    cv::bitwise_or(lines, turned, lines);
    // Thick areas hold long runs too; they are no lines.
    cv::Mat thick;
    const int broad = std::max(3, static_cast<int>(mm_to_px(1.5, dpi)));
    cv::morphologyEx(mask, thick, cv::MORPH_OPEN, cv::Mat::ones(broad, broad, CV_8U));
    lines.setTo(0, thick);
    cv::dilate(lines, lines, cv::Mat::ones(3, 3, CV_8U));
    mask.copyTo(left);
    left.setTo(0, lines);
    return left;
}

struct Component {
    int peak = 0, crisp_dots = 0;
};

}

Traces find_traces(const Marks& marks) {
    const double dpi = marks.dpi;
    const cv::Mat mask = without_long_lines(marks.all, dpi);
    cv::Mat steps;
    const InkPieces pieces = InkPieces::of(mask);
    std::vector<Component> found(pieces.pieces().size());
    // How steep the edges are: the greatest difference within three dots, against how dark the mark is at all.
    cv::morphologyEx(marks.grey, steps, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
    for (const InkPieces::Run& run : pieces.runs()) {
        const uchar* strength = marks.strength.ptr(run.y);
        int& peak = found[run.piece].peak;
        peak = std::max<int>(peak, *std::max_element(strength + run.from, strength + run.to));
    }
    for (const InkPieces::Run& run : pieces.runs()) {
        const uchar* step = steps.ptr(run.y);
        Component& component = found[run.piece];
        component.crisp_dots += static_cast<int>(
            std::count_if(step + run.from, step + run.to, [&](uchar v) { return v > 0.62 * component.peak; }));
    }
    const int rim = static_cast<int>(mm_to_px(3, dpi));
    const double speck = mm_to_px(1.1, dpi), dot_mm = mm_per_inch / dpi;
    // Coarse scans show soft edges as steep ones: there only what is clearly dark counts.
    const int least_peak = dpi < 140 ? 45 : 14;
    Traces out;
    double area = 0;
    for (size_t i = 0; i < found.size(); ++i) {
        const Component& c = found[i];
        const auto& [box, dots] = pieces.pieces()[i];
        const bool at_rim = box.x < rim || box.y < rim || box.br().x > mask.cols - rim || box.br().y > mask.rows - rim;
        const int longer = std::max(box.width, box.height), shorter = std::min(box.width, box.height);
        if (at_rim || longer < speck || c.peak < least_peak) continue;
        // Hole punches cut 5.5 to 8 mm, 8 to 15 mm from the edge (ISO 838 has 6 mm at 12 mm).
        const cv::Point middle = (box.tl() + box.br()) / 2;
        const int to_edge = std::min({middle.x, middle.y, mask.cols - middle.x, mask.rows - middle.y});
        const bool hole = longer * dot_mm > 4.5 && longer * dot_mm < 9 && shorter > 0.8 * longer &&
                          dots > 0.62 * box.area() && to_edge * dot_mm < 20;
        if (hole) continue;
        const bool line = longer * dot_mm > 40 && shorter * dot_mm < 2;
        const bool crisp = c.crisp_dots >= std::max<int>(4, static_cast<int>(0.5 * longer)) && !line;
        constexpr int dark = 60; // a picture may be soft all over, but it is not pale
        if (crisp) ++out.crisp;
        if (crisp || c.peak >= dark) area += dots;
    }
    out.ink_percent = 100.0 * area / static_cast<double>(mask.total());
    return out;
}

}
