// Papers for the simulated scanner, as a person lays them on its glass and puts them into its feeder.
#pragma once

#include "devices/simulated/simulated_scanner.h"

#include <QString>

namespace yelvin {

class Scanners;

// A stack as a day brings it: two-sided leases, some with blank backs, crooked ones, receipts among them.
std::vector<StackSheet> demo_stack(const QString& originals);

// Where a paper goes when it is laid down: a sheet with its upper left corner in the marked corner, anything smaller
// beside what lies there.
LaidPaper laid_down(const QString& file, const std::vector<LaidPaper>& already, SizeMm glass = {216, 297});

// A paper larger than the simulated glass, laid on it part by part as a person would: moved on by a little less than
// the glass is large, never quite straight, one part upside down.
// Row by row; empty for a paper that fits on the glass.
std::vector<LaidPaper> parts_of(const std::string& file, SizeMm glass);

// The part that lies there now, from 0; -1: none of them.
int part_laid(const LaidPaper& paper, const std::vector<LaidPaper>& parts);

// Where one large paper lies on the bench scanner's glass, its next part comes there; after the last the first again.
void lay_next_part(Scanners& scanners);

}
