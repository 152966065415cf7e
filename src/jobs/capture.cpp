#include "jobs/capture.h"

namespace yelvin {

Result<void> CaptureSink::begin_page(const PageStart& start) {
    auto writer = OriginalWriter::begin(store_folder, start.width_px, start.dpi, start.ink);
    if (!writer) return std::unexpected(writer.error());
    writer_.emplace(std::move(*writer));
    rows_ = 0;
    if (on_begin) on_begin(start);
    return {};
}

Result<void> CaptureSink::strip(const cv::Mat& rows) {
    if (auto kept = writer_->append(rows); !kept) return kept;
    if (on_rows) on_rows(rows, rows_);
    rows_ += rows.rows;
    return {};
}

Result<void> CaptureSink::end_page() {
    auto original = writer_->finish();
    writer_.reset();
    if (!original) return std::unexpected(original.error());
    if (on_page) on_page(*original);
    return {};
}

}
