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

// A side of a sheet whose other side is printed, worn at random: print that shines through with 5 to 20 % and a blur of
// 0.1 to 0.5 mm, dust, fibres, creases in any direction, stains; the sensor's grain is 1 to 4. Used ones have a faint
// note besides: words in pencil, a pale stamp, a single initial or a page number. Every number gives another one.
struct WornSide {
    std::string name;
    BenchSetup bench; // its stack is the one sheet, this side its front
    double dpi = 300;
};
enum class Note { None, Faint };
WornSide worn_side(const std::filesystem::path& folder, int number, Note note);

}
