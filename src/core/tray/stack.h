// What becomes of the pages of one run through the feeder: which are dropped as blank, which only separate, where
// documents begin; and how fronts and backs from two passes find each other. Pure.
#pragma once

#include "core/ticket/ticket.h"
#include "core/tray/tray.h"

#include <span>

namespace yelvin {

struct StackRules {
    bool drop_blank = false;
    double blank_limit_percent = 0.15;
    SplitAt split = SplitAt::Never;
    int every = 1;           // pages, blank ones counted, so that a blank back does not shift the rest
    std::string separator;   // what the barcode on people's own separators begins with; empty: ours only
    bool each_sheet = false; // is a document by itself
    bool operator==(const StackRules&) const = default;
};
StackRules stack_rules(const Ticket& ticket);

// What separator sheets printed by this program carry; a name may follow.
inline constexpr std::string_view separator_mark = "YELVIN DIVIDER";

struct Verdict {
    Dropped dropped = Dropped::No;
    bool starts_document = false;
    std::string barcode; // of the separator in front of the document that starts here, the mark left out
    bool operator==(const Verdict&) const = default;
};

// One verdict a page, in order. Pages must all have been noticed; a sheet's sides follow each other. Pages a person
// brought back or removed by hand keep that.
std::vector<Verdict> judged(std::span<const PagePtr> pages, const StackRules& rules);

// The tray with the verdicts carried out on the first pages of the run (`page_ids` in order): dropped pages become
// slips where they lie, dividers go in front of pages that start a document.
Tray with_verdicts(const Tray& tray, std::span<const std::string> page_ids, std::span<const Verdict> verdicts);

// The sides of one sheet from two passes: indices into the fronts and into the backs as they came.
struct SheetSides {
    std::optional<size_t> front, back;
    bool operator==(const SheetSides&) const = default;
};
// Fronts come in order, backs as they lie in the turned stack, the last sheet's first. Where the counts differ, the
// sheets from `gap` on (counted from 0) are those without a back, or the backs from there on those without a front.
std::vector<SheetSides> paired(size_t fronts, size_t backs, size_t gap);

// Each back behind its front, in whichever document that lies now, and both numbered by their sheet. A back without a
// front goes behind the sheet before it. Pages that are not in the tray any more leave their place empty; without a
// single front nothing changes.
Tray with_sides_paired(const Tray& tray, std::span<const std::string> fronts, std::span<const std::string> backs,
                       size_t gap);

}
