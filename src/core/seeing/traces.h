// What somebody put on a side, as against what merely happened to it: ink and pencil have crisp edges; smudges, stains
// and print shining through have soft ones; creases are long straight lines; punch holes are discs near an edge; dust
// is small and fibres are thin.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

struct Traces {
    double ink_percent = 0; // share of the side under traces, a rim of 3 mm left out
    int crisp = 0;          // traces that look as if made by a pen, a pencil, a stamp or a printer
    bool in_doubt = false;  // they are so pale that print of the other side may shine through
};

// `from_behind` (CV_8UC1, of the marks' size, or empty): not 0 where print of the sheet's other side accounts for what
// is seen (show_through.h); that is left out.
Traces find_traces(const Marks& marks, const cv::Mat& from_behind = {});

}
