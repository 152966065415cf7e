// What is noticed on an original, and the recipe that follows from it. Pure functions, which may take a second for a
// page.
#pragma once

#include "core/developing/flatten.h"
#include "core/developing/recipe.h"
#include "core/seeing/blemishes.h"
#include "core/seeing/ink.h"
#include "core/seeing/regions.h"

#include <optional>

namespace yelvin {

enum class PageKind { Text, Photo, Mixed };
std::string_view kind_word(PageKind kind); // "text", "photo", "mixed"

inline constexpr double writing_counts_percent = 0.15; // see Notices::blank()

struct Notices {
    std::optional<double> tilt_degrees; // clockwise; nullopt: neither lines of text nor a paper edge was found
    bool tilt_by_text = false;          // whether the tilt is that of text instead of the paper's edge
    bool lines_across = false;          // whether lines of text run up or down: the page lies sideways
    int letters = 0;
    std::optional<int>
        turn_degrees;       // clockwise turn that sets the page upright: 0, 90, 180, 270; nullopt: not enough text
    double ink_percent = 0; // share of the side with traces of ink or pencil (core/seeing/traces.h)
    bool writing = false;   // whether a trace is as crisp as pens and printers make it
    bool in_doubt = false;  // whether all traces may be print of the other side that shines through, see look_through()
    InkNeed ink;
    PageKind kind = PageKind::Text;
    std::vector<Region> regions;
    std::optional<Region> sheet; // the sheet or item to which the page is cropped, if the picture shows more
    bool framed = false;         // whether `sheet` was drawn by the user, so that it is cropped exactly
    std::string paper;           // name of the standard size of `sheet` within 2 mm; may be empty
    Blemishes blemishes;
    std::vector<Spot> red_eyes;        // mm of the original
    std::optional<Corners> askew;      // corners of a sheet that was photographed at an angle; mm of the original
    std::vector<std::string> barcodes; // found only if the ticket needs them

    // Whether the side counts as blank. Writing counts as writing_counts_percent of ink, so that a lone page number is
    // not lost below the usual limit, but can be with a higher limit.
    bool blank(double limit_percent) const {
        return ink_percent + (writing ? writing_counts_percent : 0) < limit_percent;
    }
};

// Determines everything but turn_degrees, which needs OCR (core/ocr/orientation.h), and barcodes. Items::None: a page
// that was cropped to its sheet has no items to find.
enum class Items { Find, None };
Notices notice(const Raster& original, Items items = Items::Find);

// Decides about a side that is in doubt by the picture of the sheet's other side, and updates `notices`. Both pictures
// show the sheet alone, level, as notice() got them.
void look_through(Notices& notices, const Raster& side, const Raster& other);

// What a ticket applies to every page.
struct Applied {
    bool straighten = true, turn_upright = true;
    std::optional<Ink> ink; // nullopt: automatic
    Adjust adjust = {};
};

// Returns the corrections that follow from the notices. An automatic colour mode reduces colour to grey if there is no
// colour, but never to black and white, which would change the edge of every letter.
Recipe recipe_from(const Notices& notices, const Raster& original, const Applied& wanted);

}
