// One pass of a scanner, as the window and yelvin-batch both carry it out: one job of a feeder, or the jobs that the
// frames on the glass take, from the device into originals in the store.
#pragma once

#include "core/seeing/frame.h"
#include "core/ticket/ticket.h"
#include "jobs/capture.h"

#include <functional>

namespace yelvin {

struct PassPlan {
    Ticket ticket;
    bool from_stack = false;     // of a feeder; else of the glass
    RectMm area;                 // feeder: of its sheets; of no size: as large as they come
    int sheets = 0;              // feeder: stop after so many; 0: until it is empty
    std::vector<Frame> frames;   // glass: what becomes pages …
    std::vector<GlassPass> jobs; // … and the scans that they take
    bool finds = false;          // glass: what becomes pages is looked for in the scan itself
    std::vector<int> lengths_px; // feeder: of the fronts of this run so far (LengthWatch)
};

// A part of a picture of the glass that becomes a page.
struct OnGlass {
    size_t number = 0;        // in the order of the frames
    std::optional<Region> at; // nothing: all of the picture
    bool framed = false;      // drawn by a person
    bool operator==(const OnGlass&) const = default;
};

// Called on the pass's own threads; each may be empty.
struct PassEvents {
    std::function<void(const PageStart&)> begun;
    std::function<void(const cv::Mat& rows)> rows;                             // of the page that has begun
    std::function<void(const Captured&)> side;                                 // feeder: one is in the store
    std::function<void(const Original&, const std::vector<OnGlass>&)> picture; // glass: likewise
    std::function<void(const ScanRequest&, double mm, double seconds)> timed;  // glass: a whole scan took so long
};

struct PassEnd {
    Result<void> outcome; // pages that were told of before an error are in the store
    std::vector<int> lengths_px;
};

// Blocks until the pass is through.
PassEnd carry_out(Scanner& scanner, const PassPlan& plan, const std::filesystem::path& store_folder,
                  const PassEvents& events, const std::stop_token& stop);

// The pages that a picture of the glass gives, each with its number; not looked at yet.
std::vector<std::pair<size_t, Page>> pages_of(const Original& picture, const std::vector<OnGlass>& parts);
// A side of a stack's sheet, likewise. `sheets_before`: complete in the jobs of the same run before this one.
Page page_of(const Captured& side, int sheets_before, bool all_are_backs);

}
