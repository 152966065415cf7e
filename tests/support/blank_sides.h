// Sides of sheets that are hard to tell: blank ones with all that makes a side look used, and used ones with hardly
// anything on them. Made as drawings, scanned by the simulated feeder, always the same.
#pragma once

#include "support/support.h"

namespace yelvin::test {

struct HardSide {
    std::string name; // what it is, for messages
    bool used = false;
    StackSheet sheet;
};

// Writes the drawings into `folder` and gives one sheet for each side.
std::vector<HardSide> hard_sides(const std::filesystem::path& folder);

}
