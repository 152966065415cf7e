// Distinguishing traces of ink and pencil on a side from what happened to it. Ink and pencil have crisp edges; smudges,
// stains and print that shines through have soft ones; creases are long straight lines; punch holes are discs near an
// edge; dust is small and fibres are thin. A pure function.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

struct Traces {
    double ink_percent = 0; // share of the side with traces, without an edge of 3 mm
    int crisp = 0;          // number of traces as crisp as those of a pen, a pencil, a stamp or a printer
    bool in_doubt = false;  // whether all are so pale that they may be print of the other side
};

// `from_behind` (CV_8UC1 of the marks' size, or empty) is not 0 where print of the sheet's other side explains the mark
// (show_through.h); such marks are ignored.
Traces find_traces(const Marks& marks, const cv::Mat& from_behind = {});

}
