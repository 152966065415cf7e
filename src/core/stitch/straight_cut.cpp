#include "core/seeing/regions.h"
#include "core/stitch/layout.h"
#include "core/stitch/search.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

using Looks = std::vector<PieceLookPtr>;

// Returns the rotation of the picture's own lines or, without any, of the pieces' edges; radians, -45 to 45 degrees,
// then made upright like most pieces.
double picture_turn(const Looks& looks, const Layout& layout) {
    std::array<double, 4> quarters{};
    cv::Point2d tilts;
    std::vector<double> directions(direction_bins, 0.0);
    double pieces = 0;
    for (size_t i = 0; i < looks.size(); ++i) {
        if (!layout.pieces[i].placed) continue;
        const double angle = layout.pieces[i].pose.radians;
        const int quarter = static_cast<int>(std::lround(angle / (CV_PI / 2)));
        quarters[static_cast<size_t>((quarter + 8) % 4)] += pieces == 0 ? 1.5 : 1; // the first one decides a draw
        tilts += {std::cos(4 * angle), std::sin(4 * angle)};
        const int shift = static_cast<int>(std::lround(angle * 180 / CV_PI * 4));
        const auto of_piece = edge_directions(*looks[i]);
        for (int k = 0; k < direction_bins; ++k)
            directions[static_cast<size_t>(((k + shift) % direction_bins + direction_bins) % direction_bins)] +=
                of_piece[static_cast<size_t>(k)];
        pieces += 1;
    }
    if (pieces == 0) return 0;
    for (double& d : directions) d /= pieces;
    const double tilt = std::atan2(tilts.y, tilts.x) / 4;
    double turn = tilt;
    const MainDirection lines = main_direction(directions);
    const double off = std::remainder(lines.degrees * CV_PI / 180 - tilt, CV_PI / 2);
    if (lines.share > clear_direction && std::abs(off) < 6 * CV_PI / 180) turn = tilt + off;
    const auto most = std::ranges::max_element(quarters) - quarters.begin();
    // The picture is upright if the upper edges of most pieces are at the top.
    return turn + std::remainder(static_cast<double>(most) * CV_PI / 2 - std::round(turn / (CV_PI / 2)) * (CV_PI / 2),
                                 2 * CV_PI);
}

// Returns the upright rectangle of what is covered. It is cut where a corner would stay empty, but never where more
// than a narrow strip would be lost.
cv::Rect2d picture_rectangle(const Looks& looks, const std::vector<PlacedPiece>& pieces) {
    constexpr double most_lost = 0.025; // Share of the picture's width or height that may be lost on one side.
    cv::Rect2d bounds;
    for (size_t i = 0; i < looks.size(); ++i)
        if (pieces[i].placed) bounds |= bounds_of(pieces[i].pose, looks[i]->size);
    const int width = static_cast<int>(std::ceil(bounds.width)), height = static_cast<int>(std::ceil(bounds.height));
    cv::Mat covered(height, width, CV_8U, cv::Scalar(0)), detail(height, width, CV_8U, cv::Scalar(0));
    for (size_t i = 0; i < looks.size(); ++i) {
        if (!pieces[i].placed) continue;
        const PieceLook& look = *looks[i];
        const Pose back = pieces[i].pose.inverse();
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < width; ++x) {
                const cv::Point2d at = back(bounds.tl() + cv::Point2d(x + 0.5, y + 0.5));
                if (at.x < 0.8 || at.y < 0.8 || at.x > look.size.width - 0.8 || at.y > look.size.height - 0.8) continue;
                covered.at<uchar>(y, x) = 1;
                const cv::Point2d pixel = look.coarse.pixel(at);
                const int cx = std::clamp(static_cast<int>(pixel.x), 2, look.coarse.pixels.cols - 3);
                const int cy = std::clamp(static_cast<int>(pixel.y), 2, look.coarse.pixels.rows - 3);
                const float dx = look.coarse.pixels.at<float>(cy, cx + 2) - look.coarse.pixels.at<float>(cy, cx - 2);
                const float dy = look.coarse.pixels.at<float>(cy + 2, cx) - look.coarse.pixels.at<float>(cy - 2, cx);
                if (std::abs(dx) + std::abs(dy) > 12) detail.at<uchar>(y, x) = 1;
            }
        }
    }
    cv::Rect box(0, 0, width, height);
    std::array<double, 4> lost{};
    std::array<bool, 4> fixed{};
    while (box.width > 20 && box.height > 20) {
        const std::array<cv::Rect, 4> sides{cv::Rect(box.x, box.y, 1, box.height),
                                            {box.x, box.y, box.width, 1},
                                            {box.br().x - 1, box.y, 1, box.height},
                                            {box.x, box.br().y - 1, box.width, 1}};
        int worst = -1;
        double most = 0;
        for (int s = 0; s < 4; ++s) {
            if (fixed[static_cast<size_t>(s)]) continue;
            const double share = 1 - static_cast<double>(cv::countNonZero(covered(sides[static_cast<size_t>(s)]))) /
                                         sides[static_cast<size_t>(s)].area();
            if (share > most + 1e-9) {
                most = share;
                worst = s;
            }
        }
        if (worst < 0) break;
        const auto s = static_cast<size_t>(worst);
        if (cv::countNonZero(detail(sides[s])) > 0) {
            lost[s] += 1;
            if (lost[s] > most_lost * (worst % 2 == 0 ? width : height)) {
                fixed[s] = true;
                continue;
            }
        }
        if (worst == 0 || worst == 1) (worst == 0 ? box.x : box.y) += 1;
        (worst % 2 == 0 ? box.width : box.height) -= 1;
    }
    return cv::Rect2d(bounds.x + box.x, bounds.y + box.y, std::min<double>(box.width, bounds.width - box.x),
                      std::min<double>(box.height, bounds.height - box.y));
}

// Returns the rotation and the place of the item itself, if its edges are visible against the lid on all sides.
struct Sheet {
    double radians = 0;
    cv::Rect2d box; // The bounding box after rotating the pieces back by `radians`.
};

// Draws all pieces roughly into one picture of 75 dpi. Empty areas have the colour of the lid.
Raster sketch(const Looks& looks, const std::vector<PlacedPiece>& pieces, cv::Rect2d bounds, cv::Mat& covered) {
    const double mm = mm_per_inch / coarse_look_dpi;
    const cv::Size size(static_cast<int>(bounds.width / mm) + 1, static_cast<int>(bounds.height / mm) + 1);
    Raster out{cv::Mat(size, CV_8UC3, cv::Scalar::all(255)), coarse_look_dpi, Ink::Colour};
    covered = cv::Mat(size, CV_8U, cv::Scalar(0));
    for (size_t i = 0; i < looks.size(); ++i) {
        if (!pieces[i].placed) continue;
        const LookLevel& level = looks[i]->colour;
        const Pose back = pieces[i].pose.inverse();
        const auto pixel_of = [&](double x, double y) {
            return level.pixel(back(bounds.tl() + cv::Point2d(x + 0.5, y + 0.5) * mm));
        };
        const cv::Point2d origin = pixel_of(0, 0), dx = pixel_of(1, 0) - origin, dy = pixel_of(0, 1) - origin;
        const cv::Matx23d map(dx.x, dy.x, origin.x, dx.y, dy.y, origin.y);
        cv::Mat pixels = level.pixels, here, inside;
        if (pixels.channels() == 1) cv::cvtColor(level.pixels, pixels, cv::COLOR_GRAY2BGR);
        cv::warpAffine(pixels, here, map, size, cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
        cv::warpAffine(cv::Mat(pixels.size(), CV_8U, cv::Scalar(255)), inside, map, size,
                       cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
        inside = inside == 255;
        here.copyTo(out.pixels, inside);
        covered.setTo(255, inside);
    }
    return out;
}

// Fills empty corners with the nearest pixels.
void fill_from_beside(cv::Mat& pixels, const cv::Mat& covered) {
    cv::Mat well_inside, distance, labels;
    cv::erode(covered, well_inside, cv::Mat::ones(5, 5, CV_8U), {-1, -1}, 1, cv::BORDER_CONSTANT, 0);
    cv::distanceTransform(~well_inside, distance, labels, cv::DIST_L2, cv::DIST_MASK_5, cv::DIST_LABEL_PIXEL);
    std::vector<cv::Vec3b> of_label;
    for (int y = 0; y < pixels.rows; ++y) {
        for (int x = 0; x < pixels.cols; ++x) {
            if (well_inside.at<uchar>(y, x) == 0) continue;
            const auto label = static_cast<size_t>(labels.at<int>(y, x));
            if (of_label.size() <= label) of_label.resize(label + 1);
            of_label[label] = pixels.at<cv::Vec3b>(y, x);
        }
    }
    for (int y = 0; y < pixels.rows; ++y) {
        for (int x = 0; x < pixels.cols; ++x) {
            const auto label = static_cast<size_t>(labels.at<int>(y, x));
            if (well_inside.at<uchar>(y, x) == 0 && label < of_label.size())
                pixels.at<cv::Vec3b>(y, x) = of_label[label];
        }
    }
}

std::optional<Sheet> sheet_in(const Looks& looks, const std::vector<PlacedPiece>& pieces) {
    cv::Rect2d bounds;
    for (size_t i = 0; i < looks.size(); ++i)
        if (pieces[i].placed) bounds |= bounds_of(pieces[i].pose, looks[i]->size);
    cv::Mat covered;
    Raster raster = sketch(looks, pieces, bounds, covered);
    fill_from_beside(raster.pixels, covered);
    const std::vector<Region> regions = find_regions(raster);
    const auto largest = std::ranges::max_element(regions, {}, [](const Region& r) { return r.w_mm * r.h_mm; });
    if (largest == regions.end()) return std::nullopt;
    const double all = cv::countNonZero(covered) * std::pow(mm_per_inch / coarse_look_dpi, 2);
    if (largest->w_mm * largest->h_mm < 0.75 * all) return std::nullopt;
    // If content would be cut off, the found sheet is not the whole item.
    const double radians = largest->angle_degrees * CV_PI / 180;
    const cv::Point2d centre(largest->x_mm, largest->y_mm);
    const cv::Matx22d back(std::cos(radians), std::sin(radians), -std::sin(radians), std::cos(radians));
    int beyond = 0;
    cv::Mat grey = grey_pixels(raster);
    for (int y = 2; y < grey.rows - 2; ++y) {
        for (int x = 2; x < grey.cols - 2; ++x) {
            if (covered.at<uchar>(y, x) == 0) continue;
            if (std::abs(grey.at<uchar>(y, x + 2) - grey.at<uchar>(y, x - 2)) < 40 &&
                std::abs(grey.at<uchar>(y + 2, x) - grey.at<uchar>(y - 2, x)) < 40)
                continue;
            const cv::Vec2d off = back * cv::Vec2d((x + 0.5) * mm_per_inch / raster.dpi - centre.x,
                                                   (y + 0.5) * mm_per_inch / raster.dpi - centre.y);
            if (std::abs(off[0]) > largest->w_mm / 2 + 2.5 || std::abs(off[1]) > largest->h_mm / 2 + 2.5) ++beyond;
        }
    }
    if (beyond > 60) return std::nullopt;
    const Pose upright{-radians, 0, 0, 1};
    const cv::Point2d at = upright(bounds.tl() + centre);
    return Sheet{radians, {at.x - largest->w_mm / 2, at.y - largest->h_mm / 2, largest->w_mm, largest->h_mm}};
}

}

Layout finished(const Looks& looks, Layout layout) {
    layout.dpi = 0;
    for (size_t i = 0; i < looks.size(); ++i)
        if (layout.pieces[i].placed) layout.dpi = std::max(layout.dpi, looks[i]->dpi);
    if (layout.dpi <= 0) return layout;
    const auto turn_back = [&](double radians) {
        for (PlacedPiece& piece : layout.pieces) piece.pose = Pose{-radians, 0, 0, 1} * piece.pose;
    };
    turn_back(picture_turn(looks, layout));
    cv::Rect2d box;
    if (const auto sheet = sheet_in(looks, layout.pieces)) {
        turn_back(sheet->radians);
        box = sheet->box;
    } else {
        box = picture_rectangle(looks, layout.pieces);
    }
    for (PlacedPiece& piece : layout.pieces) {
        piece.pose.x -= box.x;
        piece.pose.y -= box.y;
    }
    layout.size = {scanned_px(box.width, layout.dpi), scanned_px(box.height, layout.dpi)};
    return layout;
}

}
