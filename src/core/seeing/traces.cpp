#include "core/seeing/traces.h"

#include "core/raster/ink_pieces.h"
#include "core/seeing/creases.h"
#include "core/seeing/soft_edges.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <numeric>
#include <optional>

namespace yelvin {

namespace {

// The thresholds of this file were set on worn sides with odd numbers (tests/support/blank_sides), those for dark marks
// also on some with even ones; docs/decisions/page-analysis.md has the figures.
constexpr double speck_mm = 1.1;
constexpr int darker_than_show_through = 90; // levels; a third of black print's density comes through at most

// A large letter has long lines, too, but it is not long as a whole.
void put_letters_back(cv::Mat& mask, const Marks& marks) {
    constexpr double least_mm = 8, most_mm = 16, as_wide = 0.25;
    InkPieces::of(marks.all).set(mask, 255, [&](const InkPiece& piece) {
        const double longer = px_to_mm(std::max(piece.box.width, piece.box.height), marks.dpi),
                     shorter = px_to_mm(std::min(piece.box.width, piece.box.height), marks.dpi);
        return longer >= least_mm && longer <= most_mm && shorter >= as_wide * longer;
    });
}

// The pieces of marks that are as large as writing and do not lie at the sheet's rim.
struct Piece {
    cv::Rect box;
    int dots = 0;
    std::vector<InkPieces::Run> runs;
};

bool is_punch_hole(const Piece& piece, cv::Size page, double dpi) {
    // Hole punches cut 5.5 to 8 mm, 8 to 15 mm from the edge (ISO 838 has 6 mm at 12 mm).
    const int longer = std::max(piece.box.width, piece.box.height),
              shorter = std::min(piece.box.width, piece.box.height);
    const double longer_mm = px_to_mm(longer, dpi);
    const cv::Point middle = (piece.box.tl() + piece.box.br()) / 2;
    const int to_edge = std::min({middle.x, middle.y, page.width - middle.x, page.height - middle.y});
    return longer_mm > 4.5 && longer_mm < 9 && shorter > 0.8 * longer && piece.dots > 0.62 * piece.box.area() &&
           px_to_mm(to_edge, dpi) < 20;
}

std::vector<Piece> large_pieces(const cv::Mat& mask, double dpi) {
    constexpr double rim_mm = 3;
    const int rim = static_cast<int>(mm_to_px(rim_mm, dpi));
    const cv::Rect inner(rim, rim, mask.cols - 2 * rim, mask.rows - 2 * rim);
    const InkPieces all = InkPieces::of(mask);
    constexpr size_t none = static_cast<size_t>(-1);
    std::vector<size_t> place(all.pieces().size(), none);
    std::vector<Piece> out;
    for (size_t i = 0; i < all.pieces().size(); ++i) {
        const InkPiece& piece = all.pieces()[i];
        if ((piece.box & inner) != piece.box || std::max(piece.box.width, piece.box.height) < mm_to_px(speck_mm, dpi))
            continue;
        Piece large{piece.box, piece.area, {}};
        if (is_punch_hole(large, mask.size(), dpi)) continue;
        place[i] = out.size();
        out.push_back(std::move(large));
    }
    for (const InkPieces::Run& run : all.runs())
        if (place[run.piece] != none) out[place[run.piece]].runs.push_back(run);
    return out;
}

// A quick measure of how crisp a piece is: its darkest level, and how many of its pixels lie on steep edges.
struct Steepness {
    int darkest = 0, steep_dots = 0;
};

Steepness steepness(const Piece& piece, const Marks& marks, const cv::Mat& steps) {
    Steepness out;
    for (const InkPieces::Run& run : piece.runs) {
        const uchar* strength = marks.strength.ptr(run.y);
        out.darkest = std::max<int>(out.darkest, *std::max_element(strength + run.from, strength + run.to));
    }
    constexpr double steep = 0.62; // of the darkest, within three pixels
    for (const InkPieces::Run& run : piece.runs) {
        const uchar* step = steps.ptr(run.y);
        out.steep_dots += static_cast<int>(
            std::count_if(step + run.from, step + run.to, [&](uchar v) { return v > steep * out.darkest; }));
    }
    return out;
}

// Decides pages that need no closer look: those with many dark, crisp letters, and those with thousands of pieces.
// Returns nothing for all others.
std::optional<Traces> plain_print(const std::vector<Piece>& pieces, const Marks& marks) {
    constexpr size_t enough = 60, far_more = 3000;
    if (pieces.size() < enough) return std::nullopt;
    cv::Mat steps;
    cv::morphologyEx(marks.grey, steps, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
    Traces out;
    double area = 0;
    size_t dark = 0;
    for (const Piece& piece : pieces) {
        const Steepness seen = steepness(piece, marks, steps);
        const int longer = std::max(piece.box.width, piece.box.height);
        const bool crisp = seen.steep_dots >= std::max(4, longer / 2);
        if (crisp || seen.darkest >= darker_than_show_through) area += piece.dots;
        if (!crisp) continue;
        ++out.crisp;
        if (seen.darkest >= darker_than_show_through) ++dark;
    }
    if (dark < enough && pieces.size() < far_more) return std::nullopt;
    out.ink_percent = 100 * area / static_cast<double>(marks.all.total());
    return out;
}

// A piece and what was measured of it.
struct Trace {
    const Piece* piece = nullptr;
    int dark = 0;         // how much darker than the paper its darker tenth is
    double stroke_mm = 0; // at half that
    EdgeEnergy edges;
    double blur_mm(double dpi) const {
        return px_to_mm(SoftEdges::blur_of(edges, std::max(1.0, mm_to_px(stroke_mm, dpi))), dpi);
    }
};

class Tracing {
  public:
    Tracing(const Marks& marks, const cv::Mat& from_behind)
        : marks_(marks), from_behind_(from_behind), soft_(marks.grey) {}

    Trace measured(const Piece& piece) const {
        constexpr int around = 3; // pixels, where an edge's blur still shows
        const cv::Rect page({0, 0}, marks_.grey.size());
        const cv::Rect box = cv::Rect(piece.box.x - around - 1, piece.box.y - around - 1,
                                      piece.box.width + 2 * around + 2, piece.box.height + 2 * around + 2) &
                             page;
        cv::Mat1b own(box.size(), uchar{0}), half(box.size(), uchar{0}), wide;
        std::vector<uchar> levels;
        levels.reserve(static_cast<size_t>(piece.dots));
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
        cv::bitwise_and(own, marks_.strength(box) > darker_than(out), specks);
        cv::dilate(specks, specks, cv::Mat::ones(2 * around + 1, 2 * around + 1, CV_8U));
        wide.setTo(0, specks);
        if (!from_behind_.empty()) wide.setTo(0, from_behind_(box));
        out.edges = soft_.energy(wide, box.tl());
        return out;
    }

    // The level from which on something lies on a mark rather than belongs to it.
    static double darker_than(const Trace& trace) { return 1.5 * trace.dark + 10; }

    // Whether more than the grain is seen of these edges.
    bool is_certain(const EdgeEnergy& edges) const {
        constexpr double times = 8; // the spread of what the grain alone gives
        return edges.narrow > times * soft_.narrow_grain() * std::sqrt(4.0 * edges.dots);
    }

    // Whether the edges are as crisp as those of a pen, a pencil or a printer. The rim of a stain is long and pale and
    // nearly as crisp. What is too dark to shine through may be less crisp: a crease may run beside it, the sheet may
    // have been out of focus, or the picture enlarged.
    bool is_crisp(const Trace& trace) const {
        constexpr double crisp_mm = 0.086, rim_mm = 0.07, fairly_dark_mm = 0.11, dark_mm = 0.15,
                         dark_and_long_mm = 0.29;
        constexpr double long_rim_mm = 12, long_mm = 5;
        constexpr int pale = 50;
        const double length_mm =
            trace.piece ? px_to_mm(std::max(trace.piece->box.width, trace.piece->box.height), marks_.dpi) : 0;
        if (trace.dark >= darker_than_show_through)
            return has_blur_under(length_mm >= long_mm ? dark_and_long_mm : dark_mm, trace);
        if (trace.dark >= pale) return has_blur_under(fairly_dark_mm, trace);
        return has_blur_under(length_mm >= long_rim_mm ? rim_mm : crisp_mm, trace);
    }
    // Whether it may be a pale pencil note, though print that shines through a thin sheet is as crisp.
    bool is_fairly_crisp(const Trace& trace) const {
        constexpr double fairly_mm = 0.13;
        return has_blur_under(fairly_mm, trace);
    }
    bool knows_other_side() const { return !from_behind_.empty(); }

  private:
    bool has_blur_under(double limit_mm, const Trace& trace) const {
        constexpr double least_px = 0.5; // no edge is crisper in a coarse scan
        return trace.blur_mm(marks_.dpi) <= std::max(limit_mm, px_to_mm(least_px, marks_.dpi));
    }

    const Marks& marks_;
    cv::Mat from_behind_;
    SoftEdges soft_;
};

// ---- rows

// Whether two pieces stand beside each other as letters of a word do.
bool are_neighbours(const cv::Rect& a, const cv::Rect& b, double dpi) {
    const int overlap = std::min(a.br().y, b.br().y) - std::max(a.y, b.y);
    const int gap = std::max(a.x, b.x) - std::min(a.br().x, b.br().x);
    return overlap * 2 >= std::min(a.height, b.height) &&
           gap <= std::max<double>(std::max(a.height, b.height), mm_to_px(1.5, dpi));
}

// The same for letters of which some are hidden by print from behind: further apart, but alike in size and on one line.
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

// Several weak pieces in a row, measured as one.
Trace together(const std::vector<const Trace*>& members) {
    Trace out;
    double weight = 0, stroke = 0, dark = 0;
    for (const Trace* member : members) {
        const double dots = member->piece->dots;
        out.edges += member->edges;
        stroke += dots * member->stroke_mm;
        dark += dots * member->dark;
        weight += dots;
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

// A fibre is thinner than a stroke of a pen, even as the lens widens it; what is left of print from behind, or of a
// fibre on it, is small.
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
    // A fibre lies alone; letters in hairlines stand in rows.
    for (const auto& row : rows_of(thin, dpi)) take(row);
    for (const auto& row : rows_of(weak, dpi)) {
        const Trace all = together(row);
        if (tracing.is_certain(all.edges) && tracing.is_crisp(all)) take(row);
    }
    if (tracing.knows_other_side()) // what shines through is left out already
        for (const auto& row : rows_of(out.pale, dpi, are_on_one_line)) take(row);
    return out;
}

}

namespace {

// All traces of a side, and the pieces that they are.
struct Traced {
    std::vector<Piece> pieces, on_pale;
    std::vector<Trace> traces;
};

Traced traced(const cv::Mat& mask, const Tracing& tracing, const Marks& marks) {
    // Coarse scans show soft edges as steep ones: there only what is clearly dark counts.
    const int least_dark = marks.dpi < 140 ? 45 : 0;
    Traced out;
    const auto measure = [&](const std::vector<Piece>& pieces) {
        for (const Piece& piece : pieces)
            if (Trace trace = tracing.measured(piece); trace.dark >= least_dark) out.traces.push_back(trace);
    };
    out.pieces = large_pieces(mask, marks.dpi);
    measure(out.pieces);
    cv::Mat darker(mask.size(), CV_8UC1, cv::Scalar(0));
    for (const Trace& trace : out.traces) {
        const double limit = Tracing::darker_than(trace);
        for (const InkPieces::Run& run : trace.piece->runs) {
            const uchar* strength = marks.strength.ptr(run.y);
            uchar* dots = darker.ptr(run.y);
            for (int x = run.from; x < run.to; ++x)
                if (strength[x] > limit) dots[x] = 255;
        }
    }
    out.on_pale = large_pieces(darker, marks.dpi);
    measure(out.on_pale);
    return out;
}

// The pieces that were crisp as they are and for which print from behind does not account: taken out of `mask`, so that
// they are not seen again in part.
std::vector<const Trace*> unexplained(const Written& found, const cv::Mat& from_behind, double dpi, cv::Mat& mask) {
    constexpr double most_behind = 0.7; // of a piece
    std::vector<const Trace*> out;
    for (const Trace* trace : found.certain) {
        int behind = 0;
        for (const InkPieces::Run& run : trace->piece->runs)
            behind += cv::countNonZero(from_behind.row(run.y).colRange(run.from, run.to));
        if (behind > most_behind * trace->piece->dots || !counts_alone(*trace, dpi)) continue;
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
    for (const Trace* trace : found.certain) area += trace->piece->dots;
    // A picture may have soft edges only, so large dark areas count, too.
    constexpr int dark = 60;
    constexpr double least_picture_mm2 = 100, broad_mm = 2;
    const double least_dots = least_picture_mm2 * mm_to_px(1, marks.dpi) * mm_to_px(1, marks.dpi);
    for (const Trace& trace : traces)
        if (trace.dark >= dark && trace.piece->dots >= least_dots && trace.stroke_mm >= broad_mm &&
            std::ranges::find(found.certain, &trace) == found.certain.end())
            area += trace.piece->dots;
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
