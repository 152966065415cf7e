// What somebody put on a side, as against what merely happened to it: ink and pencil have crisp edges; smudges and
// print shining through have soft ones; creases are long straight lines; punch holes are discs near an edge; dust is
// small.
#pragma once

#include "core/seeing/marks.h"

namespace yelvin {

struct Traces {
    double ink_percent = 0; // share of the side under traces, a rim of 3 mm left out
    int crisp = 0;          // traces that look as if made by a pen, a pencil, a stamp or a printer
};

Traces find_traces(const Marks& marks);

}
