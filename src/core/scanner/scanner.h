// The interface of scanners, real and simulated: capabilities, state, and a blocking call that delivers one job as
// pages of strips.
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
enum class Flip { Book, Notepad }; // how a sheet is turned over: along its long edge, along its short edge

struct ResolutionRange {
    int least = 0, most = 0, step = 1; // dpi
    bool operator==(const ResolutionRange&) const = default;
};

struct Capabilities {
    std::vector<Source> sources;
    std::vector<Ink> inks;
    std::vector<int> resolutions;         // dpi, ascending: all, or customary ones of the range
    SizeMm glass;                         // the largest area, from the marked corner
    SizeMm feeder;                        // the largest sheet
    std::optional<ResolutionRange> range; // if given, any resolution in it is possible
    std::vector<DeviceOption> more;       // options of the driver that correspond to no choice of the ticket
    std::vector<std::string> buttons;     // buttons of the device, by the driver's names: "scan", "copy"

    bool has(Source source) const;
    // The largest area of a source; no size if the scanner does not have it.
    SizeMm largest(Source source) const { return source == Source::Glass ? glass : feeder; }
};

enum class ScannerState { Ready, WarmingUp, Busy, Offline, LidOpen, FeederEmpty, Jam };
std::string_view state_words(ScannerState state); // "ready", "warming up", …

struct ScanRequest {
    Source source = Source::Glass;
    RectMm area; // on the glass or the sheet; without a size: all of it
    double dpi = 300;
    Ink ink = Ink::Colour;
    bool cut_to_sheet = false; // feeder: as long as the sheet; its edges are found in the picture afterwards
    int sheets = 0;            // feeder: number of sheets; 0: until it is empty
    OptionValues more;         // options of the driver, by name
};

// Describes a page before its strips are delivered. The height is 0 if it is not known before the end.
struct PageStart {
    int width_px = 0, height_px = 0;
    double dpi = 0;
    Ink ink = Ink::Colour;
    int sheet = 1; // within this job
    bool back = false;
};

// Receives the pages of a job. Called on the thread that calls Scanner::scan(), in the order begin_page(), strip() any
// number of times, end_page(). An error ends the job.
class PageSink {
  public:
    virtual ~PageSink() = default;
    virtual Result<void> begin_page(const PageStart& start) = 0;
    virtual Result<void> strip(const cv::Mat& rows) = 0; // CV_8UC3 BGR or CV_8UC1, of the page's width
    virtual Result<void> end_page() = 0;
};

// One job at a time: use jobs/scanner_lease.h. Other functions than scan() may be called on any thread.
class Scanner {
  public:
    virtual ~Scanner() = default;
    virtual std::string name() const = 0; // unique; used by tickets and yelvin-batch
    virtual std::string title() const { return name(); }
    virtual std::string kind() const = 0; // how it is connected: "simulated", "USB", "network", "local"
    // Connects and determines the capabilities, which are empty before. Blocks, sometimes for seconds.
    virtual Result<void> prepare() { return {}; }
    virtual Capabilities capabilities() const = 0;
    virtual ScannerState state() const = 0;
    virtual std::optional<int> sheets_waiting() const { return std::nullopt; } // in the feeder, if known
    // Runs a job and blocks until it is done: one page from the glass, or all sheets of the feeder. An empty feeder
    // ends the job and is an error only if there was no sheet at all. After an error or a stop, pages that were ended
    // are valid, and the page under way is never ended. A stop takes effect within a second. There is no time limit for
    // a device that sends nothing: the caller polls silent_for() and decides. Errors: those of scanner_fault() and of
    // the sink.
    virtual Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) = 0;
    // During scan(): for how long the device has sent nothing, if that is longer than expected; otherwise zero.
    virtual std::chrono::milliseconds silent_for() const { return {}; }
    // Returns the button of the device that was pressed since the last call, if any. Blocks briefly.
    virtual std::optional<std::string> take_button_press() { return std::nullopt; }
};

// Returns the request as a scanner with these capabilities can carry it out: a source that it has (the feeder's front
// instead of both sides; one sheet of the feeder, or the glass, instead of hand-feeding), the area within the largest
// one and never empty, the nearest resolution at or above the wanted one, a colour mode that it has, and only options
// that it has. A pure function.
ScanRequest fitted(ScanRequest request, const Capabilities& capabilities);

// Whether both sides are wanted and the feeder scans fronts only, so that the stack is scanned twice.
bool needs_two_passes(Source wanted, const Capabilities& capabilities);

// A sink that stores the pages in memory, for previews and tests.
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
