// Carrying out one pass of a scanner, from the device to originals in the store: one job of a feeder, or the jobs that
// the frames on the glass need. Used by the window and yelvin-batch.
#pragma once

#include "core/seeing/frame.h"
#include "core/ticket/ticket.h"
#include "jobs/capture.h"

#include <functional>

namespace yelvin {

struct PassPlan {
    Ticket ticket;
    bool from_stack = false;     // from a feeder instead of the glass
    RectMm area;                 // feeder: of its sheets; without a size: as large as they are
    int sheets = 0;              // feeder: number of sheets; 0: until it is empty
    std::vector<Frame> frames;   // glass: the areas that become pages
    std::vector<GlassPass> jobs; // glass: the scans that the frames need
    bool finds = false;          // glass: whether items are found in the scan itself
    std::vector<int> lengths_px; // feeder: lengths of the fronts of this run so far (LengthWatch)
};

// A part of a picture of the glass that becomes a page.
struct OnGlass {
    size_t number = 0;        // index of its frame
    std::optional<Region> at; // nullopt: the whole picture
    bool framed = false;      // whether the user drew it
    bool operator==(const OnGlass&) const = default;
};

// Callbacks of a pass, called on its own threads. Each may be empty.
struct PassEvents {
    std::function<void(const PageStart&)> begun;
    std::function<void(const cv::Mat& rows)> rows;                             // of the page that was begun last
    std::function<void(const Captured&)> side;                                 // feeder: a side is in the store
    std::function<void(const Original&, const std::vector<OnGlass>&)> picture; // glass: a picture is in the store
    std::function<void(const ScanRequest&, double mm, double seconds)> timed;  // glass: the time of a complete scan
};

struct PassEnd {
    Result<void> outcome; // pages that were reported before an error are in the store
    std::vector<int> lengths_px;
};

// Carries out the pass. Blocks until it is done. Errors in PassEnd::outcome: those of Scanner::scan() and of the store.
PassEnd carry_out(Scanner& scanner, const PassPlan& plan, const std::filesystem::path& store_folder,
                  const PassEvents& events, const std::stop_token& stop);

// Returns the pages of a picture of the glass with the indices of their frames. They are not checked yet.
std::vector<std::pair<size_t, Page>> pages_of(const Original& picture, const std::vector<OnGlass>& parts);
// Returns the page of one side of a sheet, not checked yet. `sheets_before`: number of complete sheets in the run's
// earlier jobs.
Page page_of(const Captured& side, int sheets_before, bool all_are_backs);

}
