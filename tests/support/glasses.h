// Glasses with many items whose true places are known: photographs, some with white borders or bright skies, cards,
// receipts and sheets, at any angle, on lids of any brightness, with dust, hairs and the visible edge of the lid.
// Always the same.
#pragma once

#include "core/seeing/regions.h"
#include "support/support.h"

namespace yelvin::test {

struct Glass {
    std::string name; // what is hard about it, for messages
    BenchSetup bench;
    std::vector<Region> truth;
    bool dust = false, rim_bar = false;
    unsigned seed = 0;
};

// Writes the drawings into `folder`.
std::vector<Glass> hard_glasses(const std::filesystem::path& folder, int count);

// The glass as the simulated scanner delivers it, with dust and the edge of the lid.
Raster scan_glass(const Glass& glass, double dpi, RectMm area = {});

// Returns the area of the intersection of two turned rectangles, as a share of their union.
double overlap(const Region& a, const Region& b);

}
