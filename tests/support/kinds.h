// Pages of every kind that an office receives, with the colour mode that they need and their kind. Always the same.
#pragma once

#include "core/seeing/notice.h"
#include "support/support.h"

namespace yelvin::test {

struct KindOfPage {
    std::string name;
    std::filesystem::path file;
    double grain = 1.5; // of the sensor it is scanned with
    Ink ink = Ink::Black;
    PageKind kind = PageKind::Text;
    std::vector<PageKind> also = {}; // accepted neighbours
};

std::vector<KindOfPage> kinds_of_pages(const std::filesystem::path& folder);

// The page alone fills the picture.
Raster scan_page(const KindOfPage& page, double dpi);

}
