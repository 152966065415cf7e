#include "core/seeing/sheet.h"

#include "core/seeing/straight_line.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <numeric>

namespace yelvin {

namespace {

cv::Scalar median_colour(const cv::Mat& pixels) {
    std::vector<cv::Mat> planes;
    cv::split(pixels, planes);
    cv::Scalar colour;
    for (size_t i = 0; i < planes.size(); ++i) {
        std::vector<uchar> values;
        for (int y = 0; y < planes[i].rows; ++y)
            values.insert(values.end(), planes[i].ptr(y), planes[i].ptr(y) + planes[i].cols);
        std::ranges::nth_element(values, values.begin() + std::ssize(values) / 2);
        colour[static_cast<int>(i)] = values[values.size() / 2];
    }
    return colour;
}

// Where each row of `paper` (255 on paper) first turns to paper and stays so for a few dots, from the left.
std::vector<cv::Point2d> first_paper(const cv::Mat& paper) {
    std::vector<cv::Point2d> points;
    const int run = 6;
    for (int y = 0; y < paper.rows; ++y) {
        const uchar* row = paper.ptr(y);
        for (int x = 0, light = 0; x < paper.cols / 2; ++x) {
            light = row[x] ? light + 1 : 0;
            if (light < run) continue;
            points.emplace_back(y, x - run + 1);
            break;
        }
    }
    return points;
}

}

std::optional<Region> find_sheet(const Raster& raster) {
    constexpr double work_dpi = 100;
    const Raster small = at_resolution(raster, work_dpi);
    const cv::Mat grey = grey_pixels(small);
    const int paper = paper_level(grey), strip = std::max(2, static_cast<int>(small.dpi / 60));
    const cv::Mat rims[] = {small.pixels.rowRange(0, strip), small.pixels.rowRange(grey.rows - strip, grey.rows),
                            small.pixels.colRange(0, strip), small.pixels.colRange(grey.cols - strip, grey.cols)};
    const auto darkness = [](const cv::Mat& rim) {
        const cv::Scalar mean = cv::mean(rim);
        return std::max({mean[0], mean[1], mean[2]});
    };
    const cv::Mat& roller = *std::ranges::min_element(rims, {}, darkness);
    if (darkness(roller) > paper - 60) return std::nullopt; // no dark rim at all
    // The sheet is what is not roller: its print may reach its edges and be dark itself.
    constexpr double least_difference = 12, unevenness = 18;
    const cv::Scalar colour = median_colour(roller);
    cv::Mat difference, light, even;
    // A roller is even; the rim of a picture is not.
    cv::inRange(roller, colour - cv::Scalar::all(unevenness), colour + cv::Scalar::all(unevenness), even);
    if (cv::countNonZero(even) < 0.8 * static_cast<double>(even.total())) return std::nullopt;
    cv::absdiff(small.pixels, colour, difference);
    if (difference.channels() == 3) {
        std::vector<cv::Mat> planes;
        cv::split(difference, planes);
        cv::max(planes[0], planes[1], difference);
        cv::max(difference, planes[2], difference);
    }
    cv::threshold(difference, light, least_difference, 255, cv::THRESH_BINARY);
    cv::morphologyEx(light, light, cv::MORPH_CLOSE, cv::Mat::ones(3, 3, CV_8U));

    // Each side: left and right by rows, top and bottom by the turned picture's rows.
    cv::Mat mirrored, across, across_mirrored;
    cv::flip(light, mirrored, 1);
    cv::transpose(light, across);
    cv::flip(across, across_mirrored, 1);
    const auto middle = [](std::vector<cv::Point2d> points, int length) {
        // Near the corners a skewed sheet's other edges answer.
        std::erase_if(points, [&](const cv::Point2d& p) { return p.x < length * 0.12 || p.x > length * 0.88; });
        return points;
    };
    const auto left = line_through(middle(first_paper(light), light.rows)),
               right = line_through(middle(first_paper(mirrored), light.rows)),
               top = line_through(middle(first_paper(across), light.cols)),
               bottom = line_through(middle(first_paper(across_mirrored), light.cols));
    if (!left || !right || !top || !bottom) return std::nullopt;
    const double w = light.cols, h = light.rows;
    // Corners: x = a + b y for the sides, y = c + d x for top and bottom; the far ones counted from the other rim.
    const auto corner = [](const StraightLine& side, const StraightLine& level) {
        const double x = (side.offset + side.slope * level.offset) / (1 - side.slope * level.slope);
        return cv::Point2d(x, level.offset + level.slope * x);
    };
    const StraightLine far_right{w - right->offset, -right->slope}, far_bottom{h - bottom->offset, -bottom->slope};
    const cv::Point2d a = corner(*left, *top), b = corner(far_right, *top), c = corner(far_right, far_bottom),
                      d = corner(*left, far_bottom);
    const double width = (cv::norm(b - a) + cv::norm(c - d)) / 2, height = (cv::norm(d - a) + cv::norm(c - b)) / 2;
    const cv::Point2d centre = (a + b + c + d) * 0.25;
    // Both pairs of edges tell the angle; the longer ones more exactly.
    const double along = std::atan2((b - a + c - d).y, (b - a + c - d).x),
                 down = std::atan2(-(d - a + c - b).x, (d - a + c - b).y);
    const double angle = (along * width + down * height) / (width + height) * 180 / CV_PI;
    Region sheet{px_to_mm(centre.x, small.dpi), px_to_mm(centre.y, small.dpi), px_to_mm(width, small.dpi),
                 px_to_mm(height, small.dpi), angle};
    const bool sensible = sheet.w_mm > 20 && sheet.h_mm > 20 && std::abs(angle) < 20 && std::abs(along - down) < 0.03;
    return sensible ? std::optional(sheet) : std::nullopt;
}

}
