#include "core/seeing/traces.h"

#include "core/seeing/creases.h"
#include "core/seeing/trace_measure.h"
#include "core/seeing/trace_pieces.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <numeric>
#include <optional>

namespace yelvin {

namespace {

// ---- plain print

// A quick measure of how crisp a piece is: its darkest level, and how many of its pixels lie on steep edges.
struct Steepness {
    int darkest = 0, steep_px = 0;
};

Steepness steepness(const TracePiece& piece, const Marks& marks, const cv::Mat& steps) {
    Steepness out;
    for (const InkPieces::Run& run : piece.runs) {
        const uchar* strength = marks.strength.ptr(run.y);
        out.darkest = std::max<int>(out.darkest, *std::max_element(strength + run.from, strength + run.to));
    }
    constexpr double steep = 0.62; // Share of the greatest strength that must be reached within three pixels.
    for (const InkPieces::Run& run : piece.runs) {
        const uchar* step = steps.ptr(run.y);
        out.steep_px += static_cast<int>(
            std::count_if(step + run.from, step + run.to, [&](uchar v) { return v > steep * out.darkest; }));
    }
    return out;
}

// Decides pages that need no closer analysis: those with many dark, crisp letters, and those with thousands of pieces.
// Returns nothing for all others.
std::optional<Traces> plain_print(const std::vector<TracePiece>& pieces, const Marks& marks) {
    constexpr size_t enough = 60, far_more = 3000;
    if (pieces.size() < enough) return std::nullopt;
    cv::Mat steps;
    cv::morphologyEx(marks.grey, steps, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
    Traces out;
    double area = 0;
    size_t dark = 0;
    for (const TracePiece& piece : pieces) {
        const Steepness seen = steepness(piece, marks, steps);
        const int longer = std::max(piece.box.width, piece.box.height);
        const bool crisp = seen.steep_px >= std::max(4, longer / 2);
        if (crisp || seen.darkest >= darker_than_show_through) area += piece.area_px;
        if (!crisp) continue;
        ++out.crisp;
        if (seen.darkest >= darker_than_show_through) ++dark;
    }
    if (dark < enough && pieces.size() < far_more) return std::nullopt;
    out.ink_percent = 100 * area / static_cast<double>(marks.all.total());
    return out;
}

// ---- rows

// Whether two pieces are beside each other like letters of a word.
bool are_neighbours(const cv::Rect& a, const cv::Rect& b, double dpi) {
    const int overlap = std::min(a.br().y, b.br().y) - std::max(a.y, b.y);
    const int gap = std::max(a.x, b.x) - std::min(a.br().x, b.br().x);
    return overlap * 2 >= std::min(a.height, b.height) &&
           gap <= std::max<double>(std::max(a.height, b.height), mm_to_px(1.5, dpi));
}

// The same for letters of which some are hidden by print from behind: they may be farther apart, but must be similar in
// size and on one line.
bool are_on_one_line(const cv::Rect& a, const cv::Rect& b, double dpi) {
    constexpr double widest_mm = 6, apart_mm = 6, off_line_mm = 0.5, as_high = 1.6;
    const int gap = std::max(a.x, b.x) - std::min(a.br().x, b.br().x);
    return std::max(a.width, b.width) <= mm_to_px(widest_mm, dpi) && gap <= mm_to_px(apart_mm, dpi) &&
           std::abs(a.br().y - b.br().y) <= mm_to_px(off_line_mm, dpi) &&
           std::max(a.height, b.height) <= as_high * std::min(a.height, b.height);
}

using BelongTogether = bool (*)(const cv::Rect& a, const cv::Rect& b, double dpi);

std::vector<std::vector<const Trace*>> rows_of(const std::vector<const Trace*>& traces, double dpi,
                                               BelongTogether belong = are_neighbours) {
    std::vector<size_t> row(traces.size());
    std::iota(row.begin(), row.end(), size_t{0});
    const auto first = [&](size_t i) {
        while (row[i] != i) i = row[i] = row[row[i]];
        return i;
    };
    for (size_t i = 0; i < traces.size(); ++i)
        for (size_t k = i + 1; k < traces.size(); ++k)
            if (belong(traces[i]->piece->box, traces[k]->piece->box, dpi)) row[first(k)] = first(i);
    std::vector<std::vector<const Trace*>> all(traces.size());
    for (size_t i = 0; i < traces.size(); ++i) all[first(i)].push_back(traces[i]);
    std::erase_if(all, [](const auto& members) { return members.empty(); });
    return all;
}

// Measures several faint pieces of a row as one.
Trace together(const std::vector<const Trace*>& members) {
    Trace out;
    double weight = 0, stroke = 0, dark = 0;
    for (const Trace* member : members) {
        const double area_px = member->piece->area_px;
        out.edges += member->edges;
        stroke += area_px * member->stroke_mm;
        dark += area_px * member->dark;
        weight += area_px;
    }
    out.stroke_mm = stroke / weight;
    out.dark = static_cast<int>(dark / weight);
    return out;
}

// ---- what counts

// `certain` are the traces that count as written or printed; `pale` are those that may also shine through.
struct Written {
    std::vector<const Trace*> certain, pale;
};

// A fibre is thinner than a stroke of a pen, even when blurred by the lens; remains of print from behind, or of a fibre
// on it, are small.
bool counts_alone(const Trace& trace, double dpi) {
    constexpr double thickest_fibre_mm = 0.25, thinnest_dark_mm = 0.2, least_mm = 1.8;
    constexpr int dark = 100, fairly_dark = 75;
    if (trace.stroke_mm < (trace.dark >= dark ? thinnest_dark_mm : thickest_fibre_mm)) return false;
    const int longer = std::max(trace.piece->box.width, trace.piece->box.height);
    return trace.dark >= fairly_dark || longer >= mm_to_px(least_mm, dpi);
}

Written written(const std::vector<Trace>& traces, const Tracing& tracing, double dpi) {
    constexpr size_t several = 3;
    Written out;
    std::vector<const Trace*> thin, weak;
    for (const Trace& trace : traces) {
        if (!tracing.is_certain(trace.edges))
            weak.push_back(&trace);
        else if (tracing.is_crisp(trace))
            (counts_alone(trace, dpi) ? out.certain : thin).push_back(&trace);
        else if (tracing.is_fairly_crisp(trace))
            out.pale.push_back(&trace);
    }
    const auto take = [&](const std::vector<const Trace*>& row) {
        if (row.size() >= several) out.certain.insert(out.certain.end(), row.begin(), row.end());
    };
    // A fibre is alone; letters in hairlines form rows.
    for (const auto& row : rows_of(thin, dpi)) take(row);
    for (const auto& row : rows_of(weak, dpi)) {
        const Trace all = together(row);
        if (tracing.is_certain(all.edges) && tracing.is_crisp(all)) take(row);
    }
    if (tracing.knows_other_side()) // Print that shines through was removed before.
        for (const auto& row : rows_of(out.pale, dpi, are_on_one_line)) take(row);
    return out;
}

// All traces of a side, and their pieces.
struct Traced {
    std::vector<TracePiece> pieces, on_pale;
    std::vector<Trace> traces;
};

Traced traced(const cv::Mat& mask, const Tracing& tracing, const Marks& marks) {
    // Coarse scans show soft edges as steep ones, so only what is clearly dark counts there.
    const int least_dark = marks.dpi < 140 ? 45 : 0;
    Traced out;
    const auto measure = [&](const std::vector<TracePiece>& pieces) {
        for (const TracePiece& piece : pieces)
            if (Trace trace = tracing.measured(piece); trace.dark >= least_dark) out.traces.push_back(trace);
    };
    out.pieces = large_pieces(mask, marks.dpi);
    measure(out.pieces);
    cv::Mat darker(mask.size(), CV_8UC1, cv::Scalar(0));
    for (const Trace& trace : out.traces) {
        const double limit = trace.limit_of_own();
        for (const InkPieces::Run& run : trace.piece->runs) {
            const uchar* strength = marks.strength.ptr(run.y);
            uchar* row = darker.ptr(run.y);
            for (int x = run.from; x < run.to; ++x)
                if (strength[x] > limit) row[x] = 255;
        }
    }
    out.on_pale = large_pieces(darker, marks.dpi);
    measure(out.on_pale);
    return out;
}

// Returns the pieces that were crisp without knowing the other side and that its print does not explain. They are
// removed from `mask`, so that no part of them is found again.
std::vector<const Trace*> unexplained(const Written& found, const cv::Mat& from_behind, double dpi, cv::Mat& mask) {
    constexpr double most_behind = 0.7; // Share of a piece.
    std::vector<const Trace*> out;
    for (const Trace* trace : found.certain) {
        int behind = 0;
        for (const InkPieces::Run& run : trace->piece->runs)
            behind += cv::countNonZero(from_behind.row(run.y).colRange(run.from, run.to));
        if (behind > most_behind * trace->piece->area_px || !counts_alone(*trace, dpi)) continue;
        for (const InkPieces::Run& run : trace->piece->runs) mask.row(run.y).colRange(run.from, run.to).setTo(0);
        out.push_back(trace);
    }
    return out;
}

Traces summed(const std::vector<Trace>& traces, const Written& found, const Marks& marks) {
    Traces out;
    out.crisp = static_cast<int>(found.certain.size());
    constexpr size_t a_word = 3;
    const auto may_shine_through = [](const Trace* trace) { return trace->dark < darker_than_show_through; };
    out.in_doubt = (!found.certain.empty() || found.pale.size() >= a_word) &&
                   std::ranges::all_of(found.certain, may_shine_through);
    double area = 0;
    for (const Trace* trace : found.certain) area += trace->piece->area_px;
    // A picture may have soft edges only, so large dark areas count, too.
    constexpr int dark = 60;
    constexpr double least_picture_mm2 = 100, broad_mm = 2;
    const double least_px = least_picture_mm2 * mm_to_px(1, marks.dpi) * mm_to_px(1, marks.dpi);
    for (const Trace& trace : traces)
        if (trace.dark >= dark && trace.piece->area_px >= least_px && trace.stroke_mm >= broad_mm &&
            std::ranges::find(found.certain, &trace) == found.certain.end())
            area += trace.piece->area_px;
    out.ink_percent = 100.0 * area / static_cast<double>(marks.all.total());
    return out;
}

}

Traces find_traces(const Marks& marks, const cv::Mat& from_behind) {
    cv::Mat mask = without_long_lines(marks.all, marks.dpi);
    if (auto plain = plain_print(large_pieces(mask, marks.dpi), marks)) return *plain;
    put_letters_back(mask, marks);
    mask = without_creases(mask, marks.strength, marks.dpi);
    const Tracing as_it_is(marks, {});
    const Traced whole = traced(mask, as_it_is, marks);
    const Written found = written(whole.traces, as_it_is, marks.dpi);
    if (from_behind.empty()) return summed(whole.traces, found, marks);
    const std::vector<const Trace*> stays = unexplained(found, from_behind, marks.dpi, mask);
    mask.setTo(0, from_behind);
    const Tracing with_other_side(marks, from_behind);
    const Traced rest = traced(mask, with_other_side, marks);
    Written left = written(rest.traces, with_other_side, marks.dpi);
    left.certain.insert(left.certain.end(), stays.begin(), stays.end());
    return summed(rest.traces, left, marks);
}

}
