// What a scanner is to the rest of the program: what it can do, what state it is in, and a blocking call that delivers
// one job as pages of strips. Real and simulated scanners stand behind the same class.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/scanner/device_option.h"

#include <chrono>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace yelvin {

enum class Source { Glass, FeederFront, FeederBoth, HandFed };
enum class Flip { Book, Notepad }; // how a sheet is turned to its back: over its long edge, over its short edge

struct ResolutionRange {
    int least = 0, most = 0, step = 1; // dpi
    bool operator==(const ResolutionRange&) const = default;
};

struct Capabilities {
    std::vector<Source> sources;
    std::vector<Ink> inks;
    std::vector<int> resolutions;         // dpi, ascending: all there are, or the customary ones of the range
    SizeMm glass;                         // the largest area, from the marked corner
    SizeMm feeder;                        // the largest sheet
    std::optional<ResolutionRange> range; // any resolution in it will do
    std::vector<DeviceOption> more;       // what fits no choice of the ticket
    std::vector<std::string> buttons;     // the scanner's own, by its names for them: "scan", "copy"

    bool has(Source source) const;
    // The largest area of a source; nothing fits a source that is not there.
    SizeMm largest(Source source) const { return source == Source::Glass ? glass : feeder; }
};

enum class ScannerState { Ready, WarmingUp, Busy, Offline, LidOpen, FeederEmpty, Jam };
std::string_view state_words(ScannerState state); // "ready", "warming up", …

struct ScanRequest {
    Source source = Source::Glass;
    RectMm area; // on the glass or the sheet; an area of no size means all of it
    double dpi = 300;
    Ink ink = Ink::Colour;
    bool cut_to_sheet = false; // feeder: as long as the sheet, which is found in the picture afterwards
    int sheets = 0;            // feeder: stop after so many; 0: until it is empty
    OptionValues more;         // by the option's name
};

// A page as it begins: what its strips will look like. Heights may be unknown until the end (0).
struct PageStart {
    int width_px = 0, height_px = 0;
    double dpi = 0;
    Ink ink = Ink::Colour;
    int sheet = 1; // within this job
    bool back = false;
};

// Where the pages of a job go. Called on the scanner's thread; an Error ends the job.
class PageSink {
  public:
    virtual ~PageSink() = default;
    virtual Result<void> begin_page(const PageStart& start) = 0;
    virtual Result<void> strip(const cv::Mat& rows) = 0; // CV_8UC3 BGR or CV_8UC1, of the page's width
    virtual Result<void> end_page() = 0;
};

class Scanner {
  public:
    virtual ~Scanner() = default;
    virtual std::string name() const = 0; // as tickets and yelvin-batch call it; unique
    virtual std::string title() const { return name(); }
    virtual std::string kind() const = 0; // how it is connected: "simulated", "USB", "network", "local"
    // Connects and learns the capabilities; blocks, seconds at times. Until then there are none.
    virtual Result<void> prepare() { return {}; }
    virtual Capabilities capabilities() const = 0;
    virtual ScannerState state() const = 0;
    virtual std::optional<int> sheets_waiting() const { return std::nullopt; } // in the feeder, where that is known
    // Blocks until the job is done: one page from the glass; from a feeder until it is empty, which is no fault unless
    // nothing was in it. Pages ended before a fault or a stop remain with the sink; the page under way is never ended.
    // A stop is answered within a second. A device that sends nothing is waited for until then: silent_for() says so,
    // and whoever scans decides.
    virtual Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) = 0;
    // How long the device has sent nothing during a scan, once that is longer than it should take; zero: all is well.
    // From any thread.
    virtual std::chrono::milliseconds silent_for() const { return {}; }
    // Which of the scanner's own buttons was pressed since it was last asked; blocks briefly. Nothing: none.
    virtual std::optional<std::string> take_button_press() { return std::nullopt; }
};

// The request as this scanner can carry it out: a source it has (the feeder's front for both sides, one sheet of it or
// the glass for hand-feeding), the area kept on the largest one (never empty), the nearest resolution at or above the
// asked one, an ink kind it has, and only such further options as it has.
ScanRequest fitted(ScanRequest request, const Capabilities& capabilities);

// Both sides wanted where the feeder takes fronts only: the stack is scanned twice.
bool needs_two_passes(Source wanted, const Capabilities& capabilities);

// A sink that keeps the pages in memory, for a preview and for tests.
class RasterSink : public PageSink {
  public:
    std::vector<Raster> pages;
    std::vector<PageStart> starts;
    std::function<void(const Raster&, int rows_done)> on_strip; // may be empty

    Result<void> begin_page(const PageStart& start) override;
    Result<void> strip(const cv::Mat& rows) override;
    Result<void> end_page() override;

  private:
    Raster page_;
    PageStart start_;
    int rows_ = 0;
};

}
