// Between a reading's dots and the paper: a reading keeps its lines level, the page may have been turned since, and the
// original lies as it was scanned.
#pragma once

#include "core/developing/recipe.h"
#include "core/reading/text_layer.h"

namespace yelvin {

cv::Point2d mapped(const cv::Matx33d& map, cv::Point2d point);

// From dots of a page that was turned back by so many degrees to dots of the page; `page` is the latter's size.
cv::Matx33d turned_by(int degrees, SizePx page);

// From dots of the layer to dots of the page as it is developed: they differ where the page was turned.
cv::Matx33d layer_to_page(const TextLayer& layer);
// The box of a word or a paragraph on the page as it is developed.
cv::Rect2d on_page(const cv::Rect& box, const TextLayer& layer);

// From dots of the layer, which is that of the page developed by `recipe`, to dots of its original.
cv::Matx33d layer_to_original(const TextLayer& layer, const Recipe& recipe, SizePx original, double dpi);

}
