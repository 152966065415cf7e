// What can be observed about an original without altering it, and the recipe that a ticket makes of it.
#pragma once

#include "core/developing/flatten.h"
#include "core/developing/recipe.h"
#include "core/error.h"
#include "core/seeing/blemishes.h"
#include "core/seeing/ink.h"
#include "core/seeing/regions.h"
#include "core/seeing/tilt.h"

#include <optional>

namespace yelvin {

enum class PageKind { Text, Photo, Mixed };
std::string_view kind_word(PageKind kind); // "text", "photo", "mixed"

inline constexpr double writing_counts_percent = 0.15;

struct Notices {
    std::optional<double> tilt_degrees; // clockwise; nothing: neither lines of text nor a single edge to tell it by
    bool tilt_by_text = false;          // else by the paper's edge
    bool lines_across = false;          // the lines of text run up or down the page: it lies sideways
    int letters = 0;
    std::optional<int>
        turn_degrees;       // clockwise turn that sets it upright: 0, 90, 180, 270; nothing: no text to tell by
    double ink_percent = 0; // share of the side under traces of ink or pencil (core/seeing/traces.h)
    bool writing = false;   // something crisp, as pens and printers make it
    bool in_doubt = false;  // all of that may be print of the other side shining through: see look_through()
    InkNeed ink;
    PageKind kind = PageKind::Text;
    std::vector<Region> regions;
    std::optional<Region> sheet; // in a picture that shows more: the sheet or item that the page is cut to
    bool framed = false;         // `sheet` was drawn by a person: cut exactly so, its top the page's top
    std::string paper;           // the standard size that `sheet` has within 2 mm; may be empty
    Blemishes blemishes;
    std::vector<Spot> red_eyes;        // mm of the original
    std::optional<Corners> askew;      // mm of the original: a sheet that was photographed from the side
    std::vector<std::string> barcodes; // looked for only where the ticket wants them

    // Writing counts for itself, so that a lone page number, which is hardly any ink, is not lost under the usual
    // limit; a person who moves the limit further up means it.
    bool blank(double limit_percent) const {
        return ink_percent + (writing ? writing_counts_percent : 0) < limit_percent;
    }
};

// Everything but turn_degrees, which takes a reading (core/reading/orientation.h). A page that was cut to its sheet has
// no items to find.
enum class Items { Find, None };
Notices notice(const Raster& original, Items items = Items::Find);

// Decides again what is on a side whose ink is in doubt, now that the sheet's other side is there. Both pictures are
// the sheet alone, level, as notice() saw them.
void look_through(Notices& notices, const Raster& side, const Raster& other);

struct Applied {
    bool straighten = true, turn_upright = true;
    std::optional<Ink> ink; // nothing: colour is dropped where none is needed
    Adjust adjust = {};
};

// The corrections that follow from the notices. Colour is given up for grey where there is none; never grey for black
// unless `wanted.ink` says so: that would alter every rim of every letter unasked.
Recipe recipe_from(const Notices& notices, const Raster& original, const Applied& wanted);

}
