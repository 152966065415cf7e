#include "core/seeing/sheet.h"

#include "core/seeing/straight_line.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
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

// For each row of `paper` (255 on paper), returns the first pixel from the left from which a few pixels are paper.
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

namespace {

// Returns the colour of the darkest margin of the picture if it is a uniform roller. Otherwise the paper fills the
// picture.
std::optional<cv::Mat> roller_of(const Raster& small, int paper) {
    constexpr double least_darker = 60, unevenness = 18, mostly = 0.8;
    const cv::Mat& p = small.pixels;
    const int strip = std::max(2, static_cast<int>(small.dpi / 60));
    const cv::Mat rims[] = {p.rowRange(0, strip), p.rowRange(p.rows - strip, p.rows), p.colRange(0, strip),
                            p.colRange(p.cols - strip, p.cols)};
    const auto darkness = [](const cv::Mat& rim) {
        const cv::Scalar mean = cv::mean(rim);
        return std::max({mean[0], mean[1], mean[2]});
    };
    const cv::Mat& roller = *std::ranges::min_element(rims, {}, darkness);
    if (darkness(roller) > paper - least_darker) return std::nullopt; // no dark rim at all
    // A roller is uniform; the margin of a picture is not.
    const cv::Scalar colour = median_colour(roller);
    cv::Mat even;
    cv::inRange(roller, colour - cv::Scalar::all(unevenness), colour + cv::Scalar::all(unevenness), even);
    if (cv::countNonZero(even) < mostly * static_cast<double>(even.total())) return std::nullopt;
    return roller;
}

// Returns a mask of what is not roller. The sheet may be printed up to its edges and may be dark itself.
cv::Mat unlike(const cv::Mat& pixels, const cv::Scalar& roller) {
    constexpr double least_difference = 12;
    cv::Mat difference, light;
    cv::absdiff(pixels, roller, difference);
    if (difference.channels() == 3) {
        std::vector<cv::Mat> planes;
        cv::split(difference, planes);
        cv::max(planes[0], planes[1], difference);
        cv::max(difference, planes[2], difference);
    }
    cv::threshold(difference, light, least_difference, 255, cv::THRESH_BINARY);
    cv::morphologyEx(light, light, cv::MORPH_CLOSE, cv::Mat::ones(3, 3, CV_8U));
    return light;
}

// Left, right, top, bottom: lines x = a + b y for the sides, y = c + d x for top and bottom; right and bottom are
// counted from their own edge of the picture.
std::optional<std::array<StraightLine, 4>> sides_of(const cv::Mat& light) {
    // Left and right are examined by rows, top and bottom by the rows of the transposed picture.
    cv::Mat mirrored, across, across_mirrored;
    cv::flip(light, mirrored, 1);
    cv::transpose(light, across);
    cv::flip(across, across_mirrored, 1);
    const auto side = [](const cv::Mat& seen, int length) {
        std::vector<cv::Point2d> points = first_paper(seen);
        // Near the corners of a skewed sheet, points belong to its other edges.
        std::erase_if(points, [&](const cv::Point2d& p) { return p.x < length * 0.12 || p.x > length * 0.88; });
        return line_through(points);
    };
    const auto left = side(light, light.rows), right = side(mirrored, light.rows), top = side(across, light.cols),
               bottom = side(across_mirrored, light.cols);
    if (!left || !right || !top || !bottom) return std::nullopt;
    return std::array{*left, *right, *top, *bottom};
}

cv::Point2d corner(const StraightLine& side, const StraightLine& level) {
    const double x = (side.offset + side.slope * level.offset) / (1 - side.slope * level.slope);
    return {x, level.offset + level.slope * x};
}

}

std::optional<Region> find_sheet(const Raster& raster) {
    constexpr double work_dpi = 100, least_mm = 5;
    if (std::min(raster.size_mm().width, raster.size_mm().height) < least_mm) return std::nullopt;
    const Raster small = at_resolution(raster, work_dpi);
    const auto roller = roller_of(small, paper_level(grey_pixels(small)));
    if (!roller) return std::nullopt;
    const cv::Mat light = unlike(small.pixels, median_colour(*roller));
    const auto sides = sides_of(light);
    if (!sides) return std::nullopt;
    const auto& [left, right, top, bottom] = *sides;
    const StraightLine far_right{light.cols - right.offset, -right.slope},
        far_bottom{light.rows - bottom.offset, -bottom.slope};
    const cv::Point2d a = corner(left, top), b = corner(far_right, top), c = corner(far_right, far_bottom),
                      d = corner(left, far_bottom);
    const double width = (cv::norm(b - a) + cv::norm(c - d)) / 2, height = (cv::norm(d - a) + cv::norm(c - b)) / 2;
    const cv::Point2d centre = (a + b + c + d) * 0.25;
    // Both pairs of edges determine the angle, the longer ones more precisely.
    const double along = std::atan2((b - a + c - d).y, (b - a + c - d).x),
                 down = std::atan2(-(d - a + c - b).x, (d - a + c - b).y);
    const double angle = (along * width + down * height) / (width + height) * 180 / CV_PI;
    Region sheet{px_to_mm(centre.x, small.dpi), px_to_mm(centre.y, small.dpi), px_to_mm(width, small.dpi),
                 px_to_mm(height, small.dpi), angle};
    const bool sensible = sheet.w_mm > 20 && sheet.h_mm > 20 && std::abs(angle) < 20 && std::abs(along - down) < 0.03;
    return sensible ? std::optional(sheet) : std::nullopt;
}

}
