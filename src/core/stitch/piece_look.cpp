#include "core/stitch/piece_look.h"

#include "core/raster/averaging.h"

#include <opencv2/features2d.hpp>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cmath>

namespace yelvin {

namespace {

constexpr double feature_dpi = 75; // SIFT begins at twice as much
constexpr int features_wanted = 1800, cells_across = 10;

LookLevel level(const cv::Mat& pixels, SizeMm size, double dpi, double own_dpi) {
    LookLevel out;
    if (dpi >= own_dpi * 0.99) {
        out.pixels = pixels;
    } else {
        const double scale = dpi / own_dpi;
        const cv::Size to(std::max(1, static_cast<int>(std::lround(pixels.cols * scale))),
                          std::max(1, static_cast<int>(std::lround(pixels.rows * scale))));
        out.pixels = averaged(pixels, to);
    }
    out.mm_x = size.width / out.pixels.cols;
    out.mm_y = size.height / out.pixels.rows;
    return out;
}

LookLevel softened(const LookLevel& from, double sigma_px) {
    LookLevel out{{}, from.mm_x, from.mm_y};
    cv::GaussianBlur(from.pixels, out.pixels, {}, sigma_px);
    return out;
}

// Keeps the strongest features of every cell, so that features are distributed over the piece.
std::vector<cv::KeyPoint> spread(const std::vector<cv::KeyPoint>& points, cv::Size size) {
    constexpr int cells = cells_across * cells_across;
    std::array<std::vector<cv::KeyPoint>, cells> by_cell;
    for (const cv::KeyPoint& p : points) {
        const int x = std::clamp(static_cast<int>(p.pt.x) * cells_across / size.width, 0, cells_across - 1);
        const int y = std::clamp(static_cast<int>(p.pt.y) * cells_across / size.height, 0, cells_across - 1);
        by_cell[static_cast<size_t>(y) * cells_across + static_cast<size_t>(x)].push_back(p);
    }
    // The share that cells with few features do not use goes to those with many.
    for (auto& cell : by_cell)
        std::ranges::sort(cell, [](const auto& a, const auto& b) { return a.response > b.response; });
    std::vector<cv::KeyPoint> out;
    for (size_t rank = 0; out.size() < features_wanted; ++rank) {
        bool any = false;
        for (const auto& cell : by_cell) {
            if (rank >= cell.size()) continue;
            out.push_back(cell[rank]);
            any = true;
        }
        if (!any) break;
    }
    return out;
}

constexpr double flat_spread = 2.2; // grey levels: paper, lid and their grain

// Computes the range of values in each cell and, for a straight edge through a cell, the side that it faces.
void find_outline(PieceLook& look) {
    const cv::Mat& pixels = look.coarse.pixels;
    const int cell = look.cell_px = std::max(4, static_cast<int>(std::lround(cell_mm / look.coarse.mm_x)));
    const int across = pixels.cols / cell, down = pixels.rows / cell;
    look.outline = cv::Mat(std::max(1, down), std::max(1, across), CV_8U, cv::Scalar(0));
    if (across < 3 || down < 3) return;
    cv::Mat flat(down, across, CV_8U), faces(down, across, CV_8U, cv::Scalar(0));
    for (int y = 0; y < down; ++y) {
        for (int x = 0; x < across; ++x) {
            const cv::Rect box(x * cell, y * cell, cell, cell);
            cv::Scalar mean, spread;
            cv::meanStdDev(pixels(box), mean, spread);
            flat.at<uchar>(y, x) = spread[0] < flat_spread ? 1 : 0;
            if (flat.at<uchar>(y, x) != 0) continue;
            double xx = 0, xy = 0, yy = 0;
            for (int j = std::max(1, box.y); j < std::min(pixels.rows - 1, box.br().y); ++j) {
                for (int i = std::max(1, box.x); i < std::min(pixels.cols - 1, box.br().x); ++i) {
                    const double gx = pixels.at<float>(j, i + 1) - pixels.at<float>(j, i - 1);
                    const double gy = pixels.at<float>(j + 1, i) - pixels.at<float>(j - 1, i);
                    xx += gx * gx;
                    xy += gx * gy;
                    yy += gy * gy;
                }
            }
            const double half = (xx + yy) / 2, root = std::hypot((xx - yy) / 2, xy);
            if (half - root > 0.15 * (half + root)) continue;       // The line bends here, or two lines cross.
            const double angle = 0.5 * std::atan2(2 * xy, xx - yy); // of the slope, -90 to 90 degrees
            if (std::abs(angle) < 0.3) faces.at<uchar>(y, x) = LeftSide | RightSide;
            if (std::abs(angle) > CV_PI / 2 - 0.3) faces.at<uchar>(y, x) = UpperSide | LowerSide;
        }
    }
    // Goes inwards from each side of the piece as long as the cells are uniform.
    const auto look_in = [&](int x, int y, int dx, int dy, Side side) {
        for (; x >= 0 && y >= 0 && x < across && y < down; x += dx, y += dy) {
            if (flat.at<uchar>(y, x) != 0) continue;
            // The edge may be in two neighbouring cells.
            for (int k = 0; k < 2; ++k) {
                const int ex = x + k * dx, ey = y + k * dy;
                if (ex < 0 || ey < 0 || ex >= across || ey >= down) break;
                if ((faces.at<uchar>(ey, ex) & side) != 0) look.outline.at<uchar>(ey, ex) |= side;
            }
            return;
        }
    };
    for (int y = 0; y < down; ++y) {
        look_in(0, y, 1, 0, LeftSide);
        look_in(across - 1, y, -1, 0, RightSide);
    }
    for (int x = 0; x < across; ++x) {
        look_in(x, 0, 0, 1, UpperSide);
        look_in(x, down - 1, 0, -1, LowerSide);
    }
}

void find_features(PieceLook& look, const LookLevel& from) {
    constexpr int least_side = 16; // OpenCV's SIFT needs at least this size for its first octave.
    if (std::min(from.pixels.cols, from.pixels.rows) < least_side) return;
    const auto sift = cv::SIFT::create(0, 3, 0.01, 25, 1.6, CV_8U);
    std::vector<cv::KeyPoint> points;
    sift->detect(from.pixels, points);
    points = spread(points, from.pixels.size());
    sift->compute(from.pixels, points, look.descriptors);
    look.features.reserve(points.size());
    for (const cv::KeyPoint& p : points)
        look.features.push_back({from.mm(p.pt), p.angle * CV_PI / 180, p.size * from.mm_x});
}

}

unsigned outline_at(const PieceLook& look, cv::Point2d mm) {
    const cv::Point2d pixel = look.coarse.pixel(mm);
    const double x = pixel.x / look.cell_px, y = pixel.y / look.cell_px;
    unsigned sides = 0;
    for (const double dx : {-0.45, 0.45}) {
        for (const double dy : {-0.45, 0.45}) {
            const int cx = static_cast<int>(std::floor(x + dx)), cy = static_cast<int>(std::floor(y + dy));
            if (cx >= 0 && cy >= 0 && cx < look.outline.cols && cy < look.outline.rows)
                sides |= look.outline.at<uchar>(cy, cx);
        }
    }
    return sides;
}

unsigned turned_sides(unsigned sides, double radians) {
    const int quarters = static_cast<int>(std::lround(radians / (CV_PI / 2)) % 4 + 4) % 4;
    // After a clockwise quarter turn the left side is at the top and the upper side at the right.
    return ((sides << quarters) | (sides >> (4 - quarters))) & 15U;
}

PieceLookPtr look_at_piece(const std::string& name, const Raster& piece) {
    auto look = std::make_shared<PieceLook>();
    look->name = name;
    look->width_px = piece.width_px();
    look->height_px = piece.height_px();
    look->dpi = piece.dpi;
    look->ink = piece.ink;
    look->size = piece.size_mm();
    const cv::Mat grey = grey_pixels(piece);
    look->fine = level(grey, look->size, fine_look_dpi, piece.dpi);
    // A copy, so that the rows are not shared with the piece.
    if (look->fine.pixels.data == piece.pixels.data) look->fine.pixels = grey.clone();
    look->colour = level(piece.pixels, look->size, coarse_look_dpi, piece.dpi);
    if (look->colour.pixels.data == piece.pixels.data) look->colour.pixels = piece.pixels.clone();
    const LookLevel coarse = level(grey, look->size, coarse_look_dpi, piece.dpi);
    LookLevel real = coarse;
    coarse.pixels.convertTo(real.pixels, CV_32F);
    look->coarse = softened(real, 1);
    look->soft = softened(real, 3);
    find_outline(*look);
    find_features(*look, level(grey, look->size, feature_dpi, piece.dpi));
    return look;
}

}
