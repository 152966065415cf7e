// The test strip: one scan at the best useful resolution answers which resolution and ink a page needs. Coarser ones
// are made from it as the scanner would have given them, with the bytes of the finished file and how well the words
// still read.
#pragma once

#include "core/error.h"
#include "core/reading/text_layer.h"
#include "core/seeing/notice.h"
#include "core/ticket/ticket.h"

#include <functional>
#include <optional>
#include <stop_token>
#include <vector>

namespace yelvin {

inline constexpr int strip_resolutions[] = {75, 100, 150, 200, 300, 600};
inline constexpr Ink strip_inks[] = {Ink::Colour, Ink::Grey, Ink::Black};

struct StripCell {
    int dpi = 300;
    Ink ink = Ink::Colour;
    double bytes = 0; // of the finished file with this one page; 0: not known yet
    // Share of the words read at the best that read the same here, 0 to 1, and how sure the reading of them is, 0 to
    // 100. Nothing: not read yet, or there are no words.
    std::optional<double> reads;
    double confidence = 0;
    int threshold = 127; // black: the grey level under which all of the page turns black
    bool operator==(const StripCell&) const = default;
};

// Why a choice is worth a look.
struct StripAdvice {
    enum class Reason {
        SmallestThatReads, // every word (all but one in fifty) still reads
        Photograph,        // enlarged or printed again, it needs the dots
        NoWords,           // everyday resolution; nothing to read by
        BlackLosesFaint,   // smaller, but pencil, stamps or tones go
        BlackLosesNothing, // smaller, and words and marks stay
        GreyLosesColour,   // smaller, but what is coloured goes grey
        NothingMore,       // finer, larger, and no more to read
    };
    int dpi = 300;
    Ink ink = Ink::Grey;
    Reason reason = Reason::SmallestThatReads;
    double size_ratio = 1; // of its file to the first advice's
    bool operator==(const StripAdvice&) const = default;
};

// The cells for a scan: those resolutions that are not finer than it, coarse to fine, colour first. A grey scan has no
// colour cells.
std::vector<StripCell> strip_cells(const Raster& best);

// The picture of a cell: of all of the page, or of the part of it that shows `detail` (mm), whose dots are the same.
// `threshold` is black_threshold_at().
Raster strip_picture(const Raster& best, int dpi, Ink ink);
Raster strip_detail(const Raster& best, int dpi, Ink ink, const RectMm& detail, int threshold);
int black_threshold_at(const Raster& best, int dpi);

// The same with the grain of the fine scan: averaging takes a sensor's grain away, which a scan at that resolution
// would have, and grain takes room in a file. For weighing, not for looking.
Raster strip_weighed(const Raster& best, int dpi, Ink ink);
double grain_of(const Raster& raster); // standard deviation of single dots where the picture is even, in grey levels

// The bytes of the finished file that saving would give this one page; with `text` where a searchable PDF is made.
Result<double> finished_bytes(const Raster& page, const TextLayer& text, const Ticket::Make& make);

// How much of `truth` reads the same in `reading`, in order.
struct ReadsAs {
    double share = 0, confidence = 0;
};
std::optional<ReadsAs> reads_as(const TextLayer& truth, const TextLayer& reading);

// What to choose, the recommendation first, then what is smaller and what is finer. `notices` are those of the best
// scan.
std::vector<StripAdvice> strip_advice(const std::vector<StripCell>& cells, const Notices& notices, SizeMm size);

}
