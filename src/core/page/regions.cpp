#include "core/page/regions.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

// The lid's colour: the median of a frame along the picture's rim, channel by channel.
cv::Scalar lid_colour(const cv::Mat& pixels) {
    cv::Scalar colour;
    const int margin = std::max(1, std::min(pixels.cols, pixels.rows) / 60);
    for (int channel = 0; channel < pixels.channels(); ++channel) {
        std::vector<uchar> values;
        for (int y = 0; y < pixels.rows; ++y) {
            const bool whole_row = y < margin || y >= pixels.rows - margin;
            for (int x = 0; x < pixels.cols; x += whole_row || x < margin - 1 || x >= pixels.cols - margin
                                                      ? 1
                                                      : std::max(1, pixels.cols - 2 * margin)) {
                values.push_back(pixels.ptr(y)[x * pixels.channels() + channel]);
            }
        }
        std::ranges::nth_element(values, values.begin() + static_cast<ptrdiff_t>(values.size() / 2));
        colour[channel] = values[values.size() / 2];
    }
    return colour;
}

}

std::vector<Region> find_regions(const Raster& raster) {
    constexpr double work_dpi = 75, least_side_mm = 12;
    const Raster small = at_resolution(raster, work_dpi);
    cv::Mat difference, strongest;
    cv::absdiff(small.pixels, lid_colour(small.pixels), difference);
    std::vector<cv::Mat> planes;
    cv::split(difference, planes);
    strongest = planes[0];
    for (size_t i = 1; i < planes.size(); ++i) cv::max(strongest, planes[i], strongest);
    cv::GaussianBlur(strongest, strongest, {3, 3}, 0);
    cv::threshold(strongest, strongest, 10, 255, cv::THRESH_BINARY);
    const auto ellipse = [&](double mm) {
        const int side = 2 * std::max(1, static_cast<int>(std::lround(mm_to_px(mm, small.dpi) / 2))) + 1;
        return cv::getStructuringElement(cv::MORPH_ELLIPSE, {side, side});
    };
    // Rows of type on paper as white as the lid belong together over their line spacing.
    const int pad = 20;
    cv::copyMakeBorder(strongest, strongest, pad, pad, pad, pad, cv::BORDER_CONSTANT, cv::Scalar::all(0));
    cv::morphologyEx(strongest, strongest, cv::MORPH_CLOSE, ellipse(3.0));

    std::vector<std::vector<cv::Point>> outlines;
    cv::findContours(strongest, outlines, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE, {-pad, -pad});
    std::vector<Region> regions;
    for (const auto& outline : outlines) {
        // The outline runs through the middle of dots, and the blurred edge lets it lie a dot farther out all round.
        const cv::RotatedRect box = cv::minAreaRect(outline);
        Region region{px_to_mm(box.center.x + 0.5, small.dpi), px_to_mm(box.center.y + 0.5, small.dpi),
                      px_to_mm(box.size.width - 1, small.dpi), px_to_mm(box.size.height - 1, small.dpi), box.angle};
        for (; region.angle_degrees > 45; region.angle_degrees -= 90) std::swap(region.w_mm, region.h_mm);
        for (; region.angle_degrees < -45; region.angle_degrees += 90) std::swap(region.w_mm, region.h_mm);
        if (std::min(region.w_mm, region.h_mm) >= least_side_mm) regions.push_back(region);
    }
    std::ranges::sort(regions,
                      [](const Region& a, const Region& b) { return a.y_mm + a.x_mm / 1000 < b.y_mm + b.x_mm / 1000; });
    return regions;
}

}
