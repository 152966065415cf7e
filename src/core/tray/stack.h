// What becomes of the pages of one run through the feeder: which are left out as blank, which are separators, where
// documents begin, and how fronts and backs from two passes are paired. Pure functions.
#pragma once

#include "core/ticket/ticket.h"
#include "core/tray/tray.h"

#include <span>

namespace yelvin {

struct StackRules {
    bool drop_blank = false;
    double blank_limit_percent = 0.15;
    SplitAt split = SplitAt::Never;
    int every = 1;           // pages of each document; blank pages count, so that a blank back does not shift the rest
    std::string separator;   // prefix of the barcodes of the user's own separator sheets; empty: only ours
    bool each_sheet = false; // whether each sheet is a document
    bool operator==(const StackRules&) const = default;
};
StackRules stack_rules(const Ticket& ticket);

// The text of the barcode on separator sheets that this program prints; a name may follow it.
inline constexpr std::string_view separator_mark = "YELVIN DIVIDER";

// What becomes of one page.
struct Verdict {
    Dropped dropped = Dropped::No;
    bool starts_document = false;
    std::string barcode; // if a document starts here: text of the separator in front of it, without the mark
    bool operator==(const Verdict&) const = default;
};

// Returns one verdict for each page, in order. All pages must have been noticed, and the two sides of a sheet must
// follow each other. Pages that the user left out or brought back stay so.
std::vector<Verdict> judged(std::span<const PagePtr> pages, const StackRules& rules);

// Carries out the verdicts on the first pages of the run, whose ids are `page_ids` in order: pages that are left out
// become slips in their places, and dividers are put in front of pages that start a document.
Tray with_verdicts(const Tray& tray, std::span<const std::string> page_ids, std::span<const Verdict> verdicts);

// The two sides of a sheet as indices into the fronts and the backs, in the order in which they were scanned.
struct SheetSides {
    std::optional<size_t> front, back;
    bool operator==(const SheetSides&) const = default;
};
// Pairs fronts and backs. Backs come in reverse order, because the stack was turned over. If the counts differ, the
// sheets from number `gap` on (from 0) have no back, or no front.
std::vector<SheetSides> paired(size_t fronts, size_t backs, size_t gap);

// Moves each back behind its front, in whichever document that is now, and numbers both by their sheet. A back without
// a front goes behind the sheet before it. Pages that are no longer in the tray are skipped; without any front nothing
// changes.
Tray with_sides_paired(const Tray& tray, std::span<const std::string> fronts, std::span<const std::string> backs,
                       size_t gap);

}
