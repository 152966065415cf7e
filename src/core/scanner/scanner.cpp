#include "core/scanner/scanner.h"

#include <algorithm>
#include <array>

namespace yelvin {

std::string_view state_words(ScannerState state) {
    constexpr std::array<std::string_view, 7> words{"ready",    "warming up",   "busy",     "offline",
                                                    "lid open", "feeder empty", "paper jam"};
    return words[static_cast<size_t>(state)];
}

ScanRequest fitted(ScanRequest request, const Capabilities& capabilities) {
    constexpr double smallest_mm = 2.0;
    const SizeMm glass = capabilities.glass;
    RectMm& area = request.area;
    if (area.width <= 0 || area.height <= 0) area = {0, 0, glass.width, glass.height};
    const double right = std::min(area.x + area.width, glass.width),
                 bottom = std::min(area.y + area.height, glass.height);
    area.x = std::clamp(area.x, 0.0, glass.width - smallest_mm);
    area.y = std::clamp(area.y, 0.0, glass.height - smallest_mm);
    area.width = std::max(smallest_mm, right - area.x);
    area.height = std::max(smallest_mm, bottom - area.y);

    if (!capabilities.resolutions.empty()) {
        const auto at = std::ranges::lower_bound(capabilities.resolutions, request.dpi);
        request.dpi = at == capabilities.resolutions.end() ? capabilities.resolutions.back() : *at;
    }
    if (!capabilities.inks.empty() && std::ranges::find(capabilities.inks, request.ink) == capabilities.inks.end()) {
        request.ink = capabilities.inks.front();
    }
    return request;
}

Result<void> RasterSink::begin_page(const PageStart& start) {
    const int type = start.ink == Ink::Colour ? CV_8UC3 : CV_8UC1;
    page_ = {cv::Mat(std::max(1, start.height_px), start.width_px, type, cv::Scalar::all(255)), start.dpi, start.ink};
    rows_ = 0;
    return {};
}

Result<void> RasterSink::strip(const cv::Mat& rows) {
    if (rows_ + rows.rows > page_.pixels.rows) {
        cv::Mat taller(rows_ + rows.rows, page_.pixels.cols, page_.pixels.type());
        page_.pixels.rowRange(0, rows_).copyTo(taller.rowRange(0, rows_));
        page_.pixels = taller;
    }
    rows.copyTo(page_.pixels.rowRange(rows_, rows_ + rows.rows));
    rows_ += rows.rows;
    if (on_strip) on_strip(page_, rows_);
    return {};
}

Result<void> RasterSink::end_page() {
    page_.pixels = page_.pixels.rowRange(0, rows_);
    pages.push_back(std::move(page_));
    page_ = {};
    return {};
}

}
