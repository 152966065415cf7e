#include "core/scanner/scanner.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace yelvin {

std::string_view state_words(ScannerState state) {
    constexpr std::array<std::string_view, 7> words{"ready",    "warming up",   "busy",     "offline",
                                                    "lid open", "feeder empty", "paper jam"};
    return words[static_cast<size_t>(state)];
}

bool Capabilities::has(Source source) const { return std::ranges::find(sources, source) != sources.end(); }

bool needs_two_passes(Source wanted, const Capabilities& capabilities) {
    return wanted == Source::FeederBoth && !capabilities.has(Source::FeederBoth) &&
           capabilities.has(Source::FeederFront);
}

namespace {

Source fitted_source(Source wanted, const Capabilities& can) {
    if (wanted == Source::HandFed)
        return can.has(Source::FeederFront) || !can.has(Source::Glass) ? Source::FeederFront : Source::Glass;
    if (can.sources.empty() || can.has(wanted)) return wanted;
    if (wanted != Source::Glass && can.has(Source::FeederFront)) return Source::FeederFront;
    return can.has(Source::Glass) ? Source::Glass : can.sources.front();
}

double fitted_dpi(double wanted, const Capabilities& can) {
    if (can.range) {
        const auto& [least, most, step] = *can.range;
        const double steps = std::ceil((std::clamp<double>(wanted, least, most) - least) / step - 1e-9);
        return std::min<double>(most, least + steps * step);
    }
    if (can.resolutions.empty()) return wanted;
    const auto at = std::ranges::lower_bound(can.resolutions, wanted);
    return at == can.resolutions.end() ? can.resolutions.back() : *at;
}

}

ScanRequest fitted(ScanRequest request, const Capabilities& capabilities) {
    constexpr double smallest_mm = 2.0;
    if (request.source == Source::HandFed) request.sheets = 1;
    request.source = fitted_source(request.source, capabilities);
    if (request.source == Source::Glass) request.cut_to_sheet = false;
    const SizeMm most = capabilities.largest(request.source);
    RectMm& area = request.area;
    if (area.width <= 0 || area.height <= 0 || request.cut_to_sheet) area = {0, 0, most.width, most.height};
    if (most.width > 0 && most.height > 0) {
        const double right = std::min(area.x + area.width, most.width),
                     bottom = std::min(area.y + area.height, most.height);
        area.x = std::clamp(area.x, 0.0, most.width - smallest_mm);
        area.y = std::clamp(area.y, 0.0, most.height - smallest_mm);
        area.width = std::max(smallest_mm, right - area.x);
        area.height = std::max(smallest_mm, bottom - area.y);
    }
    request.dpi = fitted_dpi(request.dpi, capabilities);
    if (!capabilities.inks.empty() && std::ranges::find(capabilities.inks, request.ink) == capabilities.inks.end()) {
        // A mode with more information can be reduced afterwards; missing colour cannot be restored.
        request.ink = capabilities.inks.front();
    }
    OptionValues more;
    for (const DeviceOption& option : capabilities.more) {
        if (const auto asked = request.more.find(option.name); asked != request.more.end())
            more[option.name] = allowed_value(option, asked->second);
    }
    request.more = std::move(more);
    return request;
}

OptionValue allowed_value(const DeviceOption& option, const OptionValue& value) {
    using Kind = DeviceOption::Kind;
    switch (option.kind) {
    case Kind::Flag:
        return std::holds_alternative<bool>(value) ? value : option.value;
    case Kind::Number: {
        const auto* number = std::get_if<double>(&value);
        if (!number) return option.value;
        if (!option.numbers.empty())
            return *std::ranges::min_element(option.numbers, {}, [&](double n) { return std::abs(n - *number); });
        if (option.most <= option.least) return *number;
        double near = std::clamp(*number, option.least, option.most);
        if (option.step > 0) near = option.least + std::round((near - option.least) / option.step) * option.step;
        return std::min(near, option.most);
    }
    case Kind::Choice: {
        const auto* words = std::get_if<std::string>(&value);
        return words && std::ranges::find(option.choices, *words) != option.choices.end() ? value : option.value;
    }
    case Kind::Text:
        return std::holds_alternative<std::string>(value) ? value : option.value;
    case Kind::Button:
        break;
    }
    return value;
}

Result<void> RasterSink::begin_page(const PageStart& start) {
    const int type = start.ink == Ink::Colour ? CV_8UC3 : CV_8UC1;
    page_ = {cv::Mat(std::max(1, start.height_px), start.width_px, type, cv::Scalar::all(255)), start.dpi, start.ink};
    start_ = start;
    rows_ = 0;
    return {};
}

Result<void> RasterSink::strip(const cv::Mat& rows) {
    if (rows_ + rows.rows > page_.pixels.rows) {
        cv::Mat taller(2 * rows_ + rows.rows, page_.pixels.cols, page_.pixels.type(), cv::Scalar::all(255));
        if (rows_ > 0) page_.pixels.rowRange(0, rows_).copyTo(taller.rowRange(0, rows_));
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
    starts.push_back(start_);
    page_ = {};
    return {};
}

}
