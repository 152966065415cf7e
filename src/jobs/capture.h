// From the scanner's strips to originals in the store. What app and batch hand to Scanner::scan().
#pragma once

#include "core/scanner/scanner.h"
#include "core/tray/tray_store.h"

#include <functional>
#include <optional>

namespace yelvin {

class CaptureSink : public PageSink {
  public:
    std::filesystem::path store_folder;
    std::function<void(const PageStart&)> on_begin; // may be empty, as the next two
    std::function<void(const cv::Mat& rows, int first_row)> on_rows;
    std::function<void(const Original&)> on_page; // the page is on disk

    explicit CaptureSink(std::filesystem::path folder) : store_folder(std::move(folder)) {}
    Result<void> begin_page(const PageStart& start) override;
    Result<void> strip(const cv::Mat& rows) override;
    Result<void> end_page() override;

  private:
    std::optional<OriginalWriter> writer_;
    int rows_ = 0;
};

}
