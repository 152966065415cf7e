// A paper larger than the simulated glass, laid on it part by part as a person would: moved on by a little less than
// the glass is large, never quite straight, one part upside down.
#pragma once

#include "app/desk.h"

namespace yelvin {

// Row by row; empty for a paper that fits on the glass.
std::vector<LaidPaper> parts_of(const std::string& file, SizeMm glass);

// The part that lies there now, from 0; -1: none of them.
int part_laid(const LaidPaper& paper, const std::vector<LaidPaper>& parts);

// Where one large paper lies on the bench scanner's glass, its next part comes there; after the last the first again.
void lay_next_part(Desk& desk);

}
