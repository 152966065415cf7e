// From the scanner's strips to originals in the store. What app and batch both hand to Scanner::scan(), behind a
// QueuedSink.
#pragma once

#include "core/scanner/scanner.h"
#include "core/tray/tray_store.h"

#include <functional>
#include <optional>
#include <span>

namespace yelvin {

// A page that is on disk, and where in the job it came from.
struct Captured {
    Original original;
    int sheet = 1;
    bool back = false;
};

class CaptureSink : public PageSink {
  public:
    std::filesystem::path store_folder;
    std::function<void(const PageStart&)> on_begin; // may be empty, as the next two
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

// In front of everything, on the scanner's own thread, so that no further sheet is pulled: where sheets come as long as
// they are, one much longer than those before it may be two. Its page still goes on; then the job ends with TwoSheets
// and an empty sentence.
class LengthWatch : public PageSink {
  public:
    std::vector<int> lengths_px; // of the fronts so far; kept from job to job of one run

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
