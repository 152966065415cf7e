// Sinks for Scanner::scan() that store the scanner's strips as originals. Used behind a QueuedSink by the window and
// yelvin-batch.
#pragma once

#include "core/scanner/scanner.h"
#include "core/tray/originals.h"

#include <functional>
#include <optional>
#include <span>

namespace yelvin {

// A page that is on disk, and its place in the job.
struct Captured {
    Original original;
    int sheet = 1;
    bool back = false;
};

// Writes each page as an original into `store_folder`. Its callbacks run on the thread that calls the sink.
class CaptureSink : public PageSink {
  public:
    std::filesystem::path store_folder;
    std::function<void(const PageStart&)> on_begin; // each may be empty
    std::function<void(const cv::Mat& rows, int first_row)> on_rows;
    std::function<void(const Captured&)> on_page;

    explicit CaptureSink(std::filesystem::path folder) : store_folder(std::move(folder)) {}
    Result<void> begin_page(const PageStart& start) override;
    Result<void> strip(const cv::Mat& rows) override;
    Result<void> end_page() override;

  private:
    std::optional<OriginalWriter> writer_;
    PageStart start_;
    int rows_ = 0;
};

// Watches the lengths of sheets that are scanned as long as they are: a sheet much longer than those before it may be
// two. Its page is passed on, and then the job ends with the error TwoSheets and an empty sentence. Use it on the
// scanner's thread, in front of the queue, so that no further sheet is pulled in.
class LengthWatch : public PageSink {
  public:
    std::vector<int> lengths_px; // of the fronts so far; carried from job to job of a run

    LengthWatch(PageSink& behind, bool watches) : behind_(behind), watches_(watches) {}
    Result<void> begin_page(const PageStart& start) override;
    Result<void> strip(const cv::Mat& rows) override;
    Result<void> end_page() override;

  private:
    PageSink& behind_;
    bool watches_, back_ = false;
    int rows_ = 0;
};

// Whether a sheet of `length` is likely to be two: more than 1.3 times the median of at least two before it.
bool looks_like_two_sheets(std::span<const int> before, int length);

}
