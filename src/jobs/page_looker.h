// Checks new pages in the background (notices, recipe, thumbnail) and reads their text. Scanning has priority: checking
// and OCR run with ever lower priority.
#pragma once

#include "core/tray/tray.h"
#include "jobs/executor.h"
#include "jobs/page_work.h"

#include <mutex>
#include <set>
#include <stop_token>

namespace yelvin {

// The size of a page that was encoded as its ticket says, for Estimates.
struct EncodedSample {
    Ticket::Make make;
    Ink ink = Ink::Grey;
    double dpi = 300, bytes = 0, pixels = 0;
};

struct LookedAt {
    Notices notices;
    Recipe recipe; // follows from the notices and the ticket
    Raster small;  // a thumbnail of the developed page
    std::optional<EncodedSample> sample;
};

class PageLooker {
  public:
    // Pages are checked on `looking`; results are delivered on `here`. `readers` must outlive this object, and this
    // object the tasks.
    struct Executors {
        Executor looking, here;
    };
    PageLooker(std::filesystem::path store_folder, ReaderPool& readers, Executors executors, std::stop_token stop);

    enum class Learn { No, Size };
    // Checks a page. `done` gets an error if the original cannot be read or checking it threw an exception.
    void look_at(const PagePtr& page, const Ticket& ticket, Learn learn, std::function<void(Result<LookedAt>)> done);
    // Decides about a side that is in doubt by the other side of its sheet. `done` gets the new notices; if a picture
    // cannot be read, the old ones, no longer in doubt.
    void look_through(const PagePtr& side, const PagePtr& other, std::function<void(Notices)> done);
    // Reads the text of the page with its present recipe. Blocks. May be called on any thread, whose priority is
    // lowered.
    Result<TextLayer> read(const PagePtr& page, const std::vector<std::string>& languages, const std::stop_token& stop,
                           const Reader::Progress& progress);

    // Reads a part of the page. `box` and the result have the coordinates of `of`, the page's text. Blocks, like
    // read().
    Result<TextLayer> read_part(const PagePtr& page, const TextLayer& of, const cv::Rect& box,
                                const std::vector<std::string>& languages, const std::stop_token& stop);

    // Returns the ids of pages that were being checked or read when the program ended last time. Call it before
    // anything is checked.
    std::vector<std::string> left_unfinished() const;

  private:
    std::filesystem::path store_folder_;
    ReaderPool& readers_;
    Executors executors_;
    std::stop_token stop_;
    std::mutex guard_;
    std::multiset<std::string> under_way_; // page ids; also stored in a file of the store
    class UnderWay;
    void write_under_way() const;
};

// Returns where a page came from, as checking needs it.
PageOrigin origin_of(const Page& page);
// Decides about a side that is in doubt by both originals in `folder` and returns its notices. Blocks; may be called on
// any thread.
Result<Notices> looked_through(const Page& side, const Page& other, const std::filesystem::path& folder);
// Returns the languages in which the page is read: its own or, if it has none, the ticket's. Empty: it is not read.
std::vector<std::string> reading_languages(const Page& page, const Ticket& ticket);
std::string joined(const std::vector<std::string>& languages); // "eng+deu"
// Whether a page is read as soon as it was checked: because its kind is, or because the user asked for it.
bool is_read_at_once(const Page& page, const Ticket& ticket);

// Returns a picture of the page that fits into a square of thumbnail_side pixels.
inline constexpr int thumbnail_side = 192;
Raster thumbnail_of(const Raster& original, const Recipe& recipe);

// Lowers the priority of the calling thread permanently (setpriority()): the window and scanning come first, then
// checking pages (4), then OCR (7).
void lower_priority(int niceness);

}
