// Sides of sheets that are hard to classify: blank ones with everything that makes a side look used, and used ones with
// hardly anything on them. They are drawings, scanned by the simulated feeder, and always the same.
#pragma once

#include "support/support.h"

namespace yelvin::test {

struct HardSide {
    std::string name; // what it is, for messages
    bool used = false;
    StackSheet sheet;
};

// Writes the drawings into `folder` and returns one sheet for each side.
std::vector<HardSide> hard_sides(const std::filesystem::path& folder);

// A side of a sheet whose other side is printed, with random wear: print that shines through with 5 to 20 % and a blur
// of 0.1 to 0.5 mm, dust, fibres, creases in any direction, stains; the sensor's grain is 1 to 4. Used ones also have a
// faint note: words in pencil, a pale stamp, a single initial or a page number. Every number gives another side.
struct WornSide {
    std::string name;
    BenchSetup bench; // its stack is the one sheet, this side its front
    double dpi = 300;
};
enum class Note { None, Faint };
WornSide worn_side(const std::filesystem::path& folder, int number, Note note);

}
