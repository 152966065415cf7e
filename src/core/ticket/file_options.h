// File options: the permissions and properties of a finished file, a stamp on its pages, and further files. Values.
#pragma once

#include "core/naming/name_part.h"
#include "core/raster/raster.h"

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

enum class Format;

// What a reader of a protected PDF may do (ISO 32000-2, table 22). Copying for accessibility is always allowed.
struct Permissions {
    enum class Print { None, Coarse, Full };
    Print print = Print::Full;
    bool change = true;
    bool copy = true;
    bool all() const { return print == Print::Full && change && copy; }
    bool operator==(const Permissions&) const = default;
};

// Document properties, each made of name parts. Without parts, the property is not written.
struct Properties {
    std::optional<std::vector<NamePart>> title; // nullopt: the document's name
    std::vector<NamePart> author, subject, keywords;
    bool operator==(const Properties&) const = default;
};

// Text on every page. If it is turned, it runs along the side edge: from bottom to top at the left, from top to bottom
// at the right.
struct Stamp {
    enum class At { TopLeft, Top, TopRight, BottomLeft, Bottom, BottomRight };
    std::vector<NamePart> parts; // empty: no stamp; a Counter counts pages
    At at = At::BottomRight;
    double size_pt = 9;             // 4 to 72
    std::string colour = "#26303a"; // "#rrggbb"
    bool turned = false;
    bool across_documents = false; // whether the counter continues across documents instead of starting at 1 in each
    bool operator==(const Stamp&) const = default;
};

// A further file of the same pages, made in the same pass.
struct FurtherFile {
    Format format{};
    std::optional<Ink> ink; // pages are reduced to this colour mode; nullopt: as they are
    int dpi = 0;            // finer pages are reduced to this resolution, 50 to 4800; 0: as they are
    std::string folder;     // empty: the ticket's folder
    bool operator==(const FurtherFile&) const = default;
};

}
