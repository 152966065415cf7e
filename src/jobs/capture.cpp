#include "jobs/capture.h"
#include "core/tray/originals.h"

#include <algorithm>

namespace yelvin {

bool looks_like_two_sheets(std::span<const int> before, int length) {
    if (before.size() < 2) return false;
    std::vector<int> sorted(before.begin(), before.end());
    const auto middle = sorted.begin() + std::ssize(sorted) / 2;
    std::ranges::nth_element(sorted, middle);
    const int longest = std::ranges::max(before);
    // In a stack of mixed sizes, an earlier sheet was as long as this one.
    return length > 1.3 * *middle && length > 1.05 * longest;
}

Result<void> CaptureSink::begin_page(const PageStart& start) {
    auto writer = OriginalWriter::begin(store_folder, start.width_px, start.dpi, start.ink);
    if (!writer) return std::unexpected(writer.error());
    writer_.emplace(std::move(*writer));
    start_ = start;
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
    if (on_page) on_page({*original, start_.sheet, start_.back});
    return {};
}

Result<void> LengthWatch::begin_page(const PageStart& start) {
    back_ = start.back;
    rows_ = 0;
    return behind_.begin_page(start);
}

Result<void> LengthWatch::strip(const cv::Mat& rows) {
    rows_ += rows.rows;
    return behind_.strip(rows);
}

Result<void> LengthWatch::end_page() {
    if (auto ended = behind_.end_page(); !ended || !watches_ || back_) return ended;
    if (looks_like_two_sheets(lengths_px, rows_)) return fail(ErrorKind::TwoSheets, "");
    lengths_px.push_back(rows_);
    return {};
}

}
