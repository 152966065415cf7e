// What a finished file says about itself, lets others do with it, and carries on its pages besides what was scanned.
#pragma once

#include "core/raster/raster.h"
#include "core/ticket/name_part.h"

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

enum class Format;

// What a protected PDF's reader may do (ISO 32000-2, table 22). Copying for accessibility always stays allowed.
struct Permissions {
    enum class Print { None, Coarse, Full };
    Print print = Print::Full;
    bool change = true;
    bool copy = true;
    bool all() const { return print == Print::Full && change && copy; }
    bool operator==(const Permissions&) const = default;
};

// Each is put together from its parts; none: it is left out.
struct Properties {
    std::optional<std::vector<NamePart>> title; // nothing: the document's name
    std::vector<NamePart> author, subject, keywords;
    bool operator==(const Properties&) const = default;
};

// Words on every page. Turned, they run along the side edge, from bottom to top at the left and from top to bottom at
// the right.
struct Stamp {
    enum class At { TopLeft, Top, TopRight, BottomLeft, Bottom, BottomRight };
    std::vector<NamePart> parts; // none: there is no stamp; its counter counts pages
    At at = At::BottomRight;
    double size_pt = 9;             // 4 to 72
    std::string colour = "#26303a"; // "#rrggbb"
    bool turned = false;
    bool across_documents = false; // the counter goes on from one to the next; else it begins at 1 in each
    bool operator==(const Stamp&) const = default;
};

// A further file of the same pages.
struct AlsoMade {
    Format format{};
    std::optional<Ink> ink; // brought to this ink kind, if the pages have more
    int dpi = 0;            // finer pages are brought to it, 50 to 4800; 0: as they are
    std::string folder;     // empty: the ticket's
    bool operator==(const AlsoMade&) const = default;
};

}
