// A letter with a logo beside its heading, drawn at random: bars, waves, rings, rays, leaves, a shield. Always the same
// for one seed.
#pragma once

#include "core/raster/raster.h"
#include "support/sheet.h"

#include <string>
#include <vector>

namespace yelvin::test {

struct LogoPage {
    std::string kind;
    Raster scanned;
    cv::Rect logo; // px
    std::vector<Placed> placed;
};
LogoPage logo_page(unsigned seed);

}
