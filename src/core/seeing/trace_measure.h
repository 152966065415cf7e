// Measures of a piece of a mark: how dark and how broad it is, and how crisp its edges are. Internal to traces.
//
// The thresholds were set on worn sides with odd numbers (tests/support/blank_sides), those for dark marks also on some
// with even ones; docs/decisions/page-analysis.md has the figures.
#pragma once

#include "core/seeing/soft_edges.h"
#include "core/seeing/trace_pieces.h"

namespace yelvin {

// Levels; a third of black print's density comes through a sheet at most.
inline constexpr int darker_than_show_through = 90;

struct Trace {
    const TracePiece* piece = nullptr; // null: several pieces, measured as one
    int dark = 0;                      // how many levels darker than the paper its darker tenth is
    double stroke_mm = 0;              // at half that
    EdgeEnergy edges;

    double blur_mm(double dpi) const;
    // The level from which on something lies on this mark rather than belongs to it.
    double limit_of_own() const { return 1.5 * dark + 10; }
};

// Measures the traces of one side. Refers to the marks, which must outlive it.
class Tracing {
  public:
    // `from_behind` as for find_traces(); marks of the other side do not count as edges.
    Tracing(const Marks& marks, const cv::Mat& from_behind)
        : marks_(marks), from_behind_(from_behind), soft_(marks.grey) {}

    Trace measured(const TracePiece& piece) const;

    // Whether more than the paper's grain is seen of these edges.
    bool is_certain(const EdgeEnergy& edges) const;
    // Whether the edges are as crisp as those of a pen, a pencil or a printer.
    bool is_crisp(const Trace& trace) const;
    // Whether it may be a pale pencil note, though print that shines through a thin sheet is as crisp.
    bool is_fairly_crisp(const Trace& trace) const;
    bool knows_other_side() const { return !from_behind_.empty(); }

  private:
    const Marks& marks_;
    cv::Mat from_behind_;
    SoftEdges soft_;

    bool has_blur_under(double limit_mm, const Trace& trace) const;
};

}
