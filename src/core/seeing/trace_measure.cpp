#include "core/seeing/trace_measure.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

double Trace::blur_mm(double dpi) const {
    return px_to_mm(SoftEdges::blur_of(edges, std::max(1.0, mm_to_px(stroke_mm, dpi))), dpi);
}

Trace Tracing::measured(const TracePiece& piece) const {
    constexpr int around = 3; // Pixels around the piece that its blur reaches.
    const cv::Rect page({0, 0}, marks_.grey.size());
    const cv::Rect box = cv::Rect(piece.box.x - around - 1, piece.box.y - around - 1, piece.box.width + 2 * around + 2,
                                  piece.box.height + 2 * around + 2) &
                         page;
    cv::Mat1b own(box.size(), uchar{0}), half(box.size(), uchar{0}), wide;
    std::vector<uchar> levels;
    levels.reserve(static_cast<size_t>(piece.area_px));
    for (const InkPieces::Run& run : piece.runs) {
        const uchar* strength = marks_.strength.ptr(run.y);
        levels.insert(levels.end(), strength + run.from, strength + run.to);
        std::fill(own.ptr(run.y - box.y) + run.from - box.x, own.ptr(run.y - box.y) + run.to - box.x, uchar{255});
    }
    const auto tenth = levels.begin() + static_cast<ptrdiff_t>(levels.size() * 9 / 10);
    std::ranges::nth_element(levels, tenth);
    Trace out;
    out.piece = &piece;
    out.dark = *tenth;
    const int half_as_dark = out.dark / 2;
    cv::bitwise_and(own, marks_.strength(box) >= half_as_dark, half);
    std::vector<std::vector<cv::Point>> outlines;
    cv::findContours(half, outlines, cv::RETR_LIST, cv::CHAIN_APPROX_NONE);
    double edge = 0;
    for (const auto& outline : outlines) edge += cv::arcLength(outline, true);
    out.stroke_mm = px_to_mm(2 * cv::countNonZero(half) / std::max(1.0, edge), marks_.dpi);
    cv::dilate(own, wide, cv::Mat::ones(2 * around + 1, 2 * around + 1, CV_8U));
    // A speck of dust or a note on a pale mark does not count as the edge of that mark.
    cv::Mat specks;
    cv::bitwise_and(own, marks_.strength(box) > out.limit_of_own(), specks);
    cv::dilate(specks, specks, cv::Mat::ones(2 * around + 1, 2 * around + 1, CV_8U));
    wide.setTo(0, specks);
    if (!from_behind_.empty()) wide.setTo(0, from_behind_(box));
    out.edges = soft_.energy(wide, box.tl());
    return out;
}

bool Tracing::is_certain(const EdgeEnergy& edges) const {
    constexpr double times = 8; // A multiple of the standard deviation that noise alone causes.
    return edges.narrow > times * soft_.narrow_grain() * std::sqrt(4.0 * edges.pixels);
}

// The edge of a stain is long and pale and nearly as crisp. What is too dark to shine through may be less crisp: a
// crease may be beside it, the sheet may have been out of focus, or the picture may have been enlarged.
bool Tracing::is_crisp(const Trace& trace) const {
    constexpr double crisp_mm = 0.086, rim_mm = 0.07, fairly_dark_mm = 0.11, dark_mm = 0.15, dark_and_long_mm = 0.29;
    constexpr double long_rim_mm = 12, long_mm = 5;
    constexpr int pale = 50;
    const double length_mm =
        trace.piece ? px_to_mm(std::max(trace.piece->box.width, trace.piece->box.height), marks_.dpi) : 0;
    if (trace.dark >= darker_than_show_through)
        return has_blur_under(length_mm >= long_mm ? dark_and_long_mm : dark_mm, trace);
    if (trace.dark >= pale) return has_blur_under(fairly_dark_mm, trace);
    return has_blur_under(length_mm >= long_rim_mm ? rim_mm : crisp_mm, trace);
}

bool Tracing::is_fairly_crisp(const Trace& trace) const {
    constexpr double fairly_mm = 0.13;
    return has_blur_under(fairly_mm, trace);
}

bool Tracing::has_blur_under(double limit_mm, const Trace& trace) const {
    constexpr double least_px = 0.5; // In pixels. In a coarse scan no edge is crisper.
    return trace.blur_mm(marks_.dpi) <= std::max(limit_mm, px_to_mm(least_px, marks_.dpi));
}

}
