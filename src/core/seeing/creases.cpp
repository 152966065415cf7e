#include "core/seeing/creases.h"

#include "core/raster/ink_pieces.h"
#include "core/raster/units.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

namespace yelvin {

namespace {

// Pieces are cut at the edges of tiles, so that crossing lines are separated nearly everywhere.
constexpr double tile_mm = 10;

// Marks the runs along rows that are at least `length` long; gaps of up to `gap` pixels are bridged.
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

// Sums over the pixels of a piece, from which its direction and darkness follow.
struct Moments {
    double count = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0, dark = 0;
    void add(const InkPieces::Run& run, const uchar* strength) {
        dark += std::accumulate(strength + run.from, strength + run.to, 0.0);
        for (double at = run.from; at < run.to; ++at) {
            ++count, x += at, y += run.y;
            xx += at * at, xy += at * run.y, yy += static_cast<double>(run.y) * run.y;
        }
    }
};

// A straight piece of a line. Lengths are in pixels.
struct Straight {
    cv::Point2d middle, along;               // of length 1
    double length = 0, spread = 0, dark = 0; // the latter is the mean level of its pixels
};

Straight straight_of(const Moments& m) {
    const double x = m.x / m.count, y = m.y / m.count;
    const double a = m.xx / m.count - x * x, b = m.xy / m.count - x * y, c = m.yy / m.count - y * y;
    const double middle = (a + c) / 2, apart = std::hypot((a - c) / 2, b), angle = std::atan2(2 * b, a - c) / 2;
    // A uniformly covered line has a variance of one twelfth of its squared length.
    return {{x, y},
            {std::cos(angle), std::sin(angle)},
            std::sqrt(12 * (middle + apart)),
            std::sqrt(std::max(0.0, middle - apart)),
            m.dark / m.count};
}

std::vector<Straight> straight_pieces(const cv::Mat& mask, const cv::Mat& strength, double dpi) {
    constexpr double least_mm = 1.5, most_spread_mm = 0.45, long_as_wide = 5;
    const int tile = static_cast<int>(mm_to_px(tile_mm, dpi));
    cv::Mat cut = mask.clone();
    for (int y = tile; y < cut.rows; y += tile) cut.row(y).setTo(0);
    for (int x = tile; x < cut.cols; x += tile) cut.col(x).setTo(0);
    const InkPieces pieces = InkPieces::of(cut);
    std::vector<Moments> moments(pieces.pieces().size());
    for (const InkPieces::Run& run : pieces.runs()) moments[run.piece].add(run, strength.ptr(run.y));
    std::vector<Straight> out;
    for (const Moments& m : moments) {
        const Straight piece = straight_of(m);
        if (piece.length < mm_to_px(least_mm, dpi) || piece.spread > mm_to_px(most_spread_mm, dpi)) continue;
        if (piece.length > long_as_wide * std::max(1.0, 2 * piece.spread)) out.push_back(piece);
    }
    return out;
}

// A line through the whole sheet, and the intervals along it in which its pieces lie.
struct Line {
    cv::Point2d through, along;
    double dark = 0;
    std::vector<std::pair<double, double>> parts; // px from `through`
};

// Collects the pieces that lie on the line of `seed`. There are no parts if the pieces together are shorter than 20 mm.
Line line_of(const Straight& seed, const std::vector<Straight>& pieces, double dpi) {
    constexpr double off_mm = 0.7, least_mm = 20;
    const double off = mm_to_px(off_mm, dpi);
    const cv::Point2d across(-seed.along.y, seed.along.x);
    Line line{seed.middle, seed.along, seed.dark, {}};
    double length = 0;
    for (const Straight& piece : pieces) {
        const cv::Point2d to_middle = piece.middle - seed.middle, half = piece.length / 2 * piece.along;
        if (std::abs((to_middle - half).dot(across)) > off || std::abs((to_middle + half).dot(across)) > off) continue;
        const double at = to_middle.dot(seed.along);
        line.parts.emplace_back(at - piece.length / 2, at + piece.length / 2);
        length += piece.length;
    }
    if (length < mm_to_px(least_mm, dpi)) line.parts.clear();
    return line;
}

// Sets the marks on a line to 0, including those between two of its pieces that are less than 25 mm apart.
void take_out(cv::Mat& mask, const cv::Mat& strength, Line line, double dpi) {
    constexpr double bridged_mm = 25, half_width_mm = 1, of_the_line = 1.6, unsure = 10; // levels
    std::ranges::sort(line.parts);
    const cv::Point2d aside = mm_to_px(half_width_mm, dpi) * cv::Point2d(-line.along.y, line.along.x);
    for (size_t i = 0; i < line.parts.size();) {
        auto [from, to] = line.parts[i];
        for (++i; i < line.parts.size() && line.parts[i].first < to + mm_to_px(bridged_mm, dpi); ++i)
            to = std::max(to, line.parts[i].second);
        from -= mm_to_px(1, dpi), to += mm_to_px(1, dpi);
        const cv::Point2d a = line.through + from * line.along, b = line.through + to * line.along;
        std::vector<cv::Point> band{a - aside, b - aside, b + aside, a + aside};
        const cv::Rect box = cv::boundingRect(band) & cv::Rect({0, 0}, mask.size());
        for (cv::Point& corner : band) corner -= box.tl();
        cv::Mat inside(box.size(), CV_8UC1, cv::Scalar(0));
        cv::fillConvexPoly(inside, band, cv::Scalar(255));
        cv::bitwise_and(inside, strength(box) <= of_the_line * line.dark + unsure, inside);
        mask(box).setTo(0, inside);
    }
}

}

cv::Mat without_long_lines(const cv::Mat& mask, double dpi) {
    const int length = static_cast<int>(mm_to_px(8, dpi));
    // The grain of the paper interrupts a faint line; gaps of up to half a millimetre are closed.
    const int gap = std::max(1, static_cast<int>(mm_to_px(0.5, dpi)));
    cv::Mat lines(mask.size(), CV_8UC1, cv::Scalar(0)), turned, across(mask.cols, mask.rows, CV_8UC1, cv::Scalar(0)),
        left;
    mark_runs(mask, lines, length, gap);
    cv::transpose(mask, turned);
    mark_runs(turned, across, length, gap);
    cv::transpose(across, turned);
    cv::bitwise_or(lines, turned, lines);
    // Thick areas also contain long runs, but are not lines.
    cv::Mat thick;
    const int broad = std::max(3, static_cast<int>(mm_to_px(1.5, dpi)));
    cv::morphologyEx(mask, thick, cv::MORPH_OPEN, cv::Mat::ones(broad, broad, CV_8U));
    lines.setTo(0, thick);
    cv::dilate(lines, lines, cv::Mat::ones(3, 3, CV_8U));
    mask.copyTo(left);
    left.setTo(0, lines);
    return left;
}

cv::Mat without_creases(const cv::Mat& mask, const cv::Mat& strength, double dpi) {
    constexpr double seed_mm = 4;
    constexpr size_t most_pieces = 4000; // A page with more pieces does not have just a few creases.
    cv::Mat out = mask.clone();
    const std::vector<Straight> pieces = straight_pieces(mask, strength, dpi);
    if (pieces.size() > most_pieces) return out;
    for (const Straight& seed : pieces)
        if (seed.length >= mm_to_px(seed_mm, dpi)) take_out(out, strength, line_of(seed, pieces, dpi), dpi);
    return out;
}

}
