#include "core/developing/join.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

Raster brought_to(const Raster& page, double dpi, Ink ink) {
    Raster out = page;
    if (page.dpi < dpi) {
        const double scale = dpi / page.dpi;
        out.pixels = scaled(page.pixels, scale, scale, page.ink == Ink::Black ? cv::INTER_NEAREST : cv::INTER_CUBIC);
        out.dpi = dpi;
    }
    if (ink == Ink::Colour && out.pixels.channels() == 1)
        cv::cvtColor(out.pixels.clone(), out.pixels, cv::COLOR_GRAY2BGR);
    out.ink = ink;
    return out;
}

}

Raster joined(const std::vector<Raster>& pages, Joined how) {
    if (pages.size() < 2) return pages.empty() ? Raster{} : pages.front();
    double dpi = 0;
    Ink ink = Ink::Black;
    for (const Raster& page : pages) {
        dpi = std::max(dpi, page.dpi);
        ink = std::min(ink, page.ink);
    }
    std::vector<cv::Mat> parts;
    int width = 0, height = 0;
    const bool beside = how == Joined::Beside;
    const int gap = how == Joined::OnA4 ? scanned_px(12, dpi) : 0;
    for (const Raster& page : pages) {
        parts.push_back(brought_to(page, dpi, ink).pixels);
        const int w = parts.back().cols, h = parts.back().rows;
        width = beside ? width + w : std::max(width, w);
        height = beside ? std::max(height, h) : height + h + (parts.size() > 1 ? gap : 0);
    }
    int left = 0, top = 0, all_width = width, all_height = height;
    if (how == Joined::OnA4) {
        all_width = std::max(width, scanned_px(210, dpi));
        all_height = std::max(height, scanned_px(297, dpi));
        left = (all_width - width) / 2;
        top = (all_height - height) / 2;
    }
    cv::Mat out(all_height, all_width, parts.front().type(), cv::Scalar::all(255));
    for (const cv::Mat& part : parts) {
        const cv::Point at(beside ? left : left + (width - part.cols) / 2,
                           beside ? top + (height - part.rows) / 2 : top);
        part.copyTo(out(cv::Rect(at, part.size())));
        (beside ? left : top) += (beside ? part.cols : part.rows) + gap;
    }
    return {out, dpi, ink};
}

}
