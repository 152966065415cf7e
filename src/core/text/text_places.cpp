#include "core/text/text_places.h"

#include <algorithm>
#include <array>

namespace yelvin {

cv::Point2d mapped(const cv::Matx33d& map, cv::Point2d point) {
    const cv::Vec3d at = map * cv::Vec3d(point.x, point.y, 1);
    return {at[0] / at[2], at[1] / at[2]};
}

cv::Matx33d turned_by(int degrees, SizePx page) {
    const double w = page.width - 1, h = page.height - 1;
    switch (degrees) {
    case 90:
        return {0, -1, w, 1, 0, 0, 0, 0, 1};
    case 180:
        return {-1, 0, w, 0, -1, h, 0, 0, 1};
    case 270:
        return {0, 1, 0, -1, 0, h, 0, 0, 1};
    default:
        return cv::Matx33d::eye();
    }
}

cv::Matx33d layer_to_page(const TextLayer& layer) {
    const bool aside = layer.turned_degrees % 180 != 0;
    return turned_by(layer.turned_degrees,
                     aside ? SizePx{layer.height_px, layer.width_px} : SizePx{layer.width_px, layer.height_px});
}

cv::Rect2d on_page(const cv::Rect& box, const TextLayer& layer) {
    const cv::Matx33d map = layer_to_page(layer);
    // The map transforms the centres of pixels. The last pixel of the box is one before its end.
    const cv::Point2d a = mapped(map, cv::Point2d(box.x, box.y)),
                      b = mapped(map, cv::Point2d(box.br()) - cv::Point2d(1, 1));
    return {std::min(a.x, b.x), std::min(a.y, b.y), std::abs(a.x - b.x) + 1, std::abs(a.y - b.y) + 1};
}

cv::Matx33d layer_to_original(const TextLayer& layer, const Recipe& recipe, SizePx original, double dpi) {
    return page_to_original(recipe, original, dpi) * layer_to_page(layer);
}

}
