// Looks at pages that have come in, elsewhere, and says later what was found; and reads them. Scanning goes first:
// looking and reading take ever smaller shares of the processor.
#pragma once

#include "core/tray/tray.h"
#include "jobs/executor.h"
#include "jobs/page_work.h"

#include <mutex>
#include <set>
#include <stop_token>

namespace yelvin {

// How large a page became that was encoded as its ticket says.
struct EncodedSample {
    Ticket::Make make;
    Ink ink = Ink::Grey;
    double dpi = 300, bytes = 0, pixels = 0;
};

struct LookedAt {
    Notices notices;
    Recipe recipe; // that follows from them and the ticket
    Raster small;  // a thumbnail of the page developed so
    std::optional<EncodedSample> sample;
};

class PageLooker {
  public:
    // Looking is handed to `looking`; what was found comes by `here`. All must outlive what is under way.
    struct Executors {
        Executor looking, here;
    };
    PageLooker(std::filesystem::path store_folder, ReaderPool& readers, Executors executors, std::stop_token stop);

    enum class Learn { No, Size };
    // `done` gets an Error where the original cannot be read, and where looking at it broke down.
    void look_at(const PagePtr& page, const Ticket& ticket, Learn learn, std::function<void(Result<LookedAt>)> done);
    // What is on a side whose ink is in doubt, now that the sheet's other side is there; the former notices again, but
    // no longer in doubt, where a picture cannot be read.
    void look_through(const PagePtr& side, const PagePtr& other, std::function<void(Notices)> done);
    // The text of the page as it is developed now. Blocks; on any thread, whose share of the processor becomes smaller.
    Result<TextLayer> read(const PagePtr& page, const std::vector<std::string>& languages, const std::stop_token& stop,
                           const Reader::Progress& progress);

    // What stands in a part of the page, its box in dots of `of`, the page's reading, as are the lines that are given
    // back. Blocks, as read().
    Result<TextLayer> read_part(const PagePtr& page, const TextLayer& of, const cv::Rect& box,
                                const std::vector<std::string>& languages, const std::stop_token& stop);

    // The pages that were being looked at or read when the program ended without finishing; asked before any look.
    std::vector<std::string> left_unfinished() const;

  private:
    std::filesystem::path store_folder_;
    ReaderPool& readers_;
    Executors executors_;
    std::stop_token stop_;
    std::mutex guard_;
    std::multiset<std::string> under_way_; // pages, also in a file of the store as long as they are
    class UnderWay;
    void write_under_way() const;
};

// What a page is told apart by when it is looked at.
PageOrigin origin_of(const Page& page);
// The notices of a side whose ink is in doubt, decided by both originals in `folder`. Blocks; on any thread.
Result<Notices> looked_through(const Page& side, const Page& other, const std::filesystem::path& folder);
// In which the page is read: its own, else the ticket's; none: it is not read.
std::vector<std::string> reading_languages(const Page& page, const Ticket& ticket);
std::string joined(const std::vector<std::string>& languages); // "eng+deu"
// Whether a page of this kind is read as soon as it was looked at: also one that somebody asked to be read.
bool is_read_at_once(const Page& page, const Ticket& ticket);

// A picture of the page that fits into a square of thumbnail_side dots.
inline constexpr int thumbnail_side = 192;
Raster thumbnail_of(const Raster& original, const Recipe& recipe);

// This thread's share of the processor becomes smaller for good: the window comes first, then scanning, then looking at
// pages (4), then reading them (7).
void step_back(int niceness);

}
