// Glasses full of things, with the truth about where they lie: photographs, some with white borders or bright skies,
// cards, receipts and sheets, at any angle, on lids of any brightness, with dust, hairs and the lid's edge in sight.
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

// The glass as the simulated scanner delivers it, dust and the lid's edge put in.
Raster scan_glass(const Glass& glass, double dpi, RectMm area = {});

// Share of the two turned rectangles' union that both cover.
double overlap(const Region& a, const Region& b);

}
