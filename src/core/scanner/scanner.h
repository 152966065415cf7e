// What a scanner is to the rest of the program: what it can do, what state it is in, and a blocking call that delivers
// one job as pages of strips. Real and simulated scanners stand behind the same class.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"

#include <functional>
#include <memory>
#include <stop_token>
#include <string>
#include <vector>

namespace yelvin {

enum class Source { Glass, FeederFront, FeederBoth, HandFed };

struct Capabilities {
    std::vector<Source> sources;
    std::vector<Ink> inks;
    std::vector<int> resolutions; // dpi, ascending
    SizeMm glass;                 // the largest area, from the marked corner
};

enum class ScannerState { Ready, WarmingUp, Busy, Offline, LidOpen, FeederEmpty, Jam };
std::string_view state_words(ScannerState state); // "ready", "warming up", …

struct ScanRequest {
    Source source = Source::Glass;
    RectMm area; // on the glass; an area of no size means the whole glass
    double dpi = 300;
    Ink ink = Ink::Colour;
};

// A page as it begins: what its strips will look like. Heights may be unknown until the end (0).
struct PageStart {
    int width_px = 0, height_px = 0;
    double dpi = 0;
    Ink ink = Ink::Colour;
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
    virtual std::string name() const = 0;
    virtual Capabilities capabilities() const = 0;
    virtual ScannerState state() const = 0;
    // Blocks until the job is done. Pages ended before a fault or a stop remain with the sink; the page under way is
    // never ended. A stop is answered within one strip.
    virtual Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) = 0;
};

// The request as this scanner can carry it out: the area kept on the glass (never empty), the nearest resolution at or
// above the asked one, and an ink kind it has.
ScanRequest fitted(ScanRequest request, const Capabilities& capabilities);

// A sink that keeps the pages in memory, for a preview and for tests.
class RasterSink : public PageSink {
  public:
    std::vector<Raster> pages;
    std::function<void(const Raster&, int rows_done)> on_strip; // may be empty

    Result<void> begin_page(const PageStart& start) override;
    Result<void> strip(const cv::Mat& rows) override;
    Result<void> end_page() override;

  private:
    Raster page_;
    int rows_ = 0;
};

}
