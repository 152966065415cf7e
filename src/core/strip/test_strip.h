// The test strip: one scan at the best useful resolution shows which resolution and colour mode a page needs. Coarser
// pictures are computed from it as the scanner would deliver them, with the size of the finished file and the share of
// words that can still be read. Pure functions.
#pragma once

#include "core/error.h"
#include "core/seeing/notice.h"
#include "core/text/text_layer.h"
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
    // The share of the best cell's words that are read the same here, 0 to 1, and their mean confidence, 0 to 100.
    // nullopt: not read yet, or there are no words.
    std::optional<double> reads;
    double confidence = 0;
    int threshold = 127; // black and white: the grey level below which pixels become black
    bool operator==(const StripCell&) const = default;
};

// A proposed choice and the reason for it.
struct StripAdvice {
    enum class Reason {
        SmallestThatReads, // all words (but one in fifty) can still be read
        Photograph,        // enlarging or reprinting needs the resolution
        NoWords,           // the everyday resolution; there are no words to judge by
        BlackLosesFaint,   // smaller, but pencil, stamps or tones are lost
        BlackLosesNothing, // smaller, and nothing is lost
        GreyLosesColour,   // smaller, but colours become grey
        NothingMore,       // finer and larger, but not easier to read
    };
    int dpi = 300;
    Ink ink = Ink::Grey;
    Reason reason = Reason::SmallestThatReads;
    double size_ratio = 1; // of its file's size to that of the first advice
    bool operator==(const StripAdvice&) const = default;
};

// Returns the cells for a scan: resolutions that are not finer than the scan, from coarse to fine, colour first. A grey
// scan has no colour cells.
std::vector<StripCell> strip_cells(const Raster& best);

// Return the picture of a cell: the whole page, or the part that shows `detail` (mm), with the same pixels. `threshold`
// is black_threshold_at().
Raster strip_picture(const Raster& best, int dpi, Ink ink);
Raster strip_detail(const Raster& best, int dpi, Ink ink, const RectMm& detail, int threshold);
int black_threshold_at(const Raster& best, int dpi);

// Returns the picture of a cell with the sensor's grain added, for estimating file sizes: averaging removes the grain
// that a scan at that resolution would have, and grain takes space in a file.
Raster strip_weighed(const Raster& best, int dpi, Ink ink);
double grain_of(const Raster& raster); // standard deviation of single pixels where the picture is even, in grey levels

// Returns the size in bytes of the file that would be saved for this page; `text` is included in a searchable PDF.
Result<double> finished_bytes(const Raster& page, const TextLayer& text, const Ticket::Make& make);

// How much of the words of `truth` occurs in `reading`, in order. Returns nullopt if there are no words.
struct ReadsAs {
    double share = 0, confidence = 0;
};
std::optional<ReadsAs> reads_as(const TextLayer& truth, const TextLayer& reading);

// Returns the advice: the recommendation first, then smaller and finer choices. `notices` are those of the best scan.
std::vector<StripAdvice> strip_advice(const std::vector<StripCell>& cells, const Notices& notices, SizeMm size);

}
