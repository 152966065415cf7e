#include "core/developing/recipe.h"

#include "core/developing/flatten.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yelvin {

namespace {

bool lies_across(const Recipe& recipe) { return recipe.turn_degrees % 180 != 0; }

// Returns the crop in whole pixels of the rotated page. It is never empty. An upright crop is clipped to the page. A
// tilted one may extend beyond it, like that of a long slip placed diagonally on the glass: it is rotated about its
// centre, so clipping one side would move all of it.
cv::Rect crop_px(const Recipe& recipe, SizePx turned, double dpi) {
    if (!recipe.crop) return {0, 0, turned.width, turned.height};
    const double farthest = std::hypot(turned.width, turned.height); // a recipe may come from a damaged file
    const auto px = [&](double mm) {
        return static_cast<int>(std::lround(std::clamp(mm_to_px(mm, dpi), -farthest, farthest)));
    };
    if (recipe.tilt_degrees != 0)
        return {px(recipe.crop->x), px(recipe.crop->y), std::max(1, px(recipe.crop->width)),
                std::max(1, px(recipe.crop->height))};
    const int x = std::clamp(px(recipe.crop->x), 0, turned.width - 1),
              y = std::clamp(px(recipe.crop->y), 0, turned.height - 1);
    return {x, y, std::clamp(px(recipe.crop->width), 1, turned.width - x),
            std::clamp(px(recipe.crop->height), 1, turned.height - y)};
}

SizePx turned_size(const Recipe& recipe, SizePx original) {
    return lies_across(recipe) ? SizePx{original.height, original.width} : original;
}

cv::Matx33d shift(double x, double y) { return {1, 0, x, 0, 1, y, 0, 0, 1}; }

// A clockwise rotation in coordinates with the y axis pointing down.
cv::Matx33d clockwise(double degrees) {
    const double angle = degrees * std::numbers::pi / 180, c = std::cos(angle), s = std::sin(angle);
    return {c, -s, 0, s, c, 0, 0, 0, 1};
}

cv::Matx33d unturn(int turn_degrees, SizePx original) {
    const double right = original.width - 1, bottom = original.height - 1;
    switch (turn_degrees) {
    case 90:
        return {0, 1, 0, -1, 0, bottom, 0, 0, 1};
    case 180:
        return {-1, 0, right, 0, -1, bottom, 0, 0, 1};
    case 270:
        return {0, -1, right, 1, 0, 0, 0, 0, 1};
    default:
        return cv::Matx33d::eye();
    }
}

}

SizePx flat_size(const Flatten& flatten, double dpi) {
    const auto px = [dpi](double mm) { return std::clamp(scanned_px(mm, dpi), 1, 60000); };
    return {px(flatten.size.width), px(flatten.size.height)};
}

// The map from pixels of the flattened page to pixels of the rotated original. The centres of the outermost pixels are
// half a pixel inside the corners.
cv::Matx33d unflatten(const Flatten& flatten, double dpi) {
    const SizePx size = flat_size(flatten, dpi);
    const std::array<cv::Point2d, 4> page{cv::Point2d(-0.5, -0.5),
                                          {size.width - 0.5, -0.5},
                                          {size.width - 0.5, size.height - 0.5},
                                          {-0.5, size.height - 0.5}};
    std::array<cv::Point2d, 4> on_original;
    for (size_t i = 0; i < 4; ++i)
        on_original[i] = {mm_to_px(flatten.corners[i].x, dpi) - 0.5, mm_to_px(flatten.corners[i].y, dpi) - 0.5};
    return projection(page, on_original);
}

SizePx developed_size(const Recipe& recipe, SizePx original, double dpi) {
    if (recipe.flatten) return flat_size(*recipe.flatten, dpi);
    const cv::Rect crop = crop_px(recipe, turned_size(recipe, original), dpi);
    return {crop.width, crop.height};
}

cv::Matx33d page_to_original(const Recipe& recipe, SizePx original, double dpi) {
    if (recipe.flatten) {
        const SizePx size = flat_size(*recipe.flatten, dpi);
        const double x = (size.width - 1) / 2.0, y = (size.height - 1) / 2.0;
        return unturn(recipe.turn_degrees, original) * unflatten(*recipe.flatten, dpi) * shift(x, y) *
               clockwise(recipe.tilt_degrees) * shift(-x, -y);
    }
    const cv::Rect crop = crop_px(recipe, turned_size(recipe, original), dpi);
    const double x = (crop.width - 1) / 2.0, y = (crop.height - 1) / 2.0;
    const cv::Matx33d straighten = shift(crop.x + x, crop.y + y) * clockwise(recipe.tilt_degrees) * shift(-x, -y);
    return unturn(recipe.turn_degrees, original) * straighten;
}

Recipe turned(Recipe recipe, int quarters, SizeMm original_size) {
    for (int i = 0; i < ((quarters % 4) + 4) % 4; ++i) {
        const double height = lies_across(recipe) ? original_size.width : original_size.height;
        if (recipe.crop) {
            const RectMm c = *recipe.crop;
            recipe.crop = RectMm{height - c.y - c.height, c.x, c.height, c.width};
        }
        if (recipe.flatten) {
            std::array<PointMm, 4> moved;
            for (size_t k = 0; k < 4; ++k) {
                const PointMm& c = recipe.flatten->corners[k];
                moved[(k + 1) % 4] = {height - c.y, c.x};
            }
            recipe.flatten = Flatten{moved, {recipe.flatten->size.height, recipe.flatten->size.width}};
        }
        recipe.turn_degrees = (recipe.turn_degrees + 90) % 360;
    }
    return recipe;
}

Recipe geometry_of(const Recipe& recipe) {
    Recipe geometry = recipe;
    geometry.adjust = {};
    geometry.ink.reset();
    return geometry;
}

}
