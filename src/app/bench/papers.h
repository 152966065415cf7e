// Papers for the simulated scanner, laid as a user would lay them. Pure functions.
#pragma once

#include "devices/simulated/simulated_scanner.h"

#include <QString>

namespace yelvin {

class Scanners;

// Returns an everyday stack: two-sided leases, some with blank backs, some crooked, with receipts among them.
std::vector<StackSheet> demo_stack(const QString& originals);

// Returns the place of a paper that is laid down: a sheet with its upper left corner in the marked corner, a smaller
// one beside what is there.
LaidPaper laid_down(const QString& file, const std::vector<LaidPaper>& already, SizeMm glass = {216, 297});

// Returns the places of a paper larger than the glass, laid on it piece by piece: moved by a little less than the size
// of the glass, never quite straight, one piece upside down. Row by row; empty for a paper that fits on the glass.
std::vector<LaidPaper> parts_of(const std::string& file, SizeMm glass);

// Returns the index of the piece that is on the glass now; -1 if there is none.
int part_laid(const LaidPaper& paper, const std::vector<LaidPaper>& parts);

// If a large paper is on the glass, moves it to its next piece; after the last one to the first.
void lay_next_part(Scanners& scanners);

}
