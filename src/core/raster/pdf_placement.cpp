#include "core/raster/pdf_placement.h"

#include "core/raster/units.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace yelvin {

namespace {

// Converts a point from the page's coordinates to the shown page: rotated, from the upper left corner, y pointing down.
cv::Point2d as_shown(const PdfLook& look, cv::Point2d p) {
    const double x = p.x - look.box.x, y = p.y - look.box.y, w = look.box.width, h = look.box.height;
    switch (look.turned) {
    case 90:
        return {y, x};
    case 180:
        return {w - x, y};
    case 270:
        return {h - y, w - x};
    default:
        return {x, h - y};
    }
}

}

PicturePlacement placement_of(const PdfLook& look, const PdfPicture& picture) {
    const auto at = [&](double x, double y) { return as_shown(look, picture.matrix.at(x, y)); };
    const cv::Point2d origin = at(0, 1); // the picture's first pixel is at the upper left of the unit square
    PicturePlacement placement{at(1, 1) - origin, at(0, 0) - origin, {}};
    const cv::Point2d end = origin + placement.along + placement.down;
    placement.place = {cv::Point2d(std::min(origin.x, end.x), std::min(origin.y, end.y)),
                       cv::Point2d(std::max(origin.x, end.x), std::max(origin.y, end.y))};
    return placement;
}

bool lies_on_its_side(const PicturePlacement& placement) {
    return std::abs(placement.along.y) > std::abs(placement.along.x);
}

cv::Size pixels_of(const PdfPicture& picture) {
    QPDFObjectHandle about = QPDFObjectHandle(picture.image).getDict();
    const auto number = [&](const char* key) {
        return about.getKey(key).isInteger()
                   ? static_cast<int>(std::clamp(about.getKey(key).getIntValue(), 0LL, 1LL << 24))
                   : 0;
    };
    return {number("/Width"), number("/Height")};
}

cv::Size2d dpi_of(const PdfPicture& picture, const PicturePlacement& placement) {
    cv::Size size = pixels_of(picture);
    if (lies_on_its_side(placement)) std::swap(size.width, size.height);
    const double wide = std::max(placement.place.width, 1e-6), high = std::max(placement.place.height, 1e-6);
    return {size.width * points_per_inch / wide, size.height * points_per_inch / high};
}

bool is_upright(const PicturePlacement& placement) {
    const auto straight = [](cv::Point2d v) {
        return std::min(std::abs(v.x), std::abs(v.y)) <= 0.2; // In pt: less than a pixel at 300 dpi across the page.
    };
    return straight(placement.along) && straight(placement.down);
}

bool covers(const cv::Rect2d& place, cv::Size2d page) {
    return place.x <= rim_pt && place.y <= rim_pt && place.br().x >= page.width - rim_pt &&
           place.br().y >= page.height - rim_pt;
}

cv::Mat as_placed(cv::Mat pixels, const PicturePlacement& placement) {
    if (lies_on_its_side(placement)) {
        cv::transpose(pixels, pixels);
        if (placement.down.x < 0) cv::flip(pixels, pixels, 1);
        if (placement.along.y < 0) cv::flip(pixels, pixels, 0);
        return pixels;
    }
    if (placement.along.x < 0) cv::flip(pixels, pixels, 1);
    if (placement.down.y < 0) cv::flip(pixels, pixels, 0);
    return pixels;
}

cv::Size2d shown_size(const PdfLook& look) {
    return look.turned % 180 == 0 ? cv::Size2d(look.box.width, look.box.height)
                                  : cv::Size2d(look.box.height, look.box.width);
}

PdfMatrix matrix_as_shown(const PdfLook& look, const PdfPicture& picture) {
    const cv::Size2d page = shown_size(look);
    const PicturePlacement placement = placement_of(look, picture);
    const bool is_page = covers(placement.place, page) && placement.place.width <= page.width + 2 * rim_pt &&
                         placement.place.height <= page.height + 2 * rim_pt;
    // y up, and on the whole page stretched to its corners.
    const auto at = [&](double x, double y) {
        cv::Point2d p = as_shown(look, picture.matrix.at(x, y));
        if (is_page)
            p = {(p.x - placement.place.x) * page.width / placement.place.width,
                 (p.y - placement.place.y) * page.height / placement.place.height};
        return cv::Point2d(p.x, page.height - p.y);
    };
    const cv::Point2d origin = at(0, 0), along = at(1, 0) - origin, up = at(0, 1) - origin;
    return {along.x, along.y, up.x, up.y, origin.x, origin.y};
}

}
