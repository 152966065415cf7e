// Pages scanned by a sensor whose lines for red and blue lie beside the one for green, so that the edges of black print
// have coloured fringes. They are drawings, scanned by the simulated feeder, and always the same.
#pragma once

#include "support/support.h"

namespace yelvin::test {

struct FringedPage {
    std::string name; // what it is, for messages
    BenchSetup bench; // its stack is the one sheet
    double dpi = 300;
};

// Print in black and grey on white, grey or yellowed paper, the sensor's lines up to 0.1 mm apart, grain 1 to 4, 200 or
// 300 dpi. With Tint::Some there is also one coloured thing on it: a stamp, a signature in ballpoint, a marked word, a
// tinted row of a table, a red number or a small logo. Every number gives another page; the drawing is written into
// `folder`.
enum class Tint { None, Some };
FringedPage fringed_page(const std::filesystem::path& folder, int number, Tint tint);

}
