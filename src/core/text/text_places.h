// Coordinates of a TextLayer, of the page as it is developed, and of the original. A layer keeps its lines level, while
// the page may have been turned since. Pure functions.
#pragma once

#include "core/developing/recipe.h"
#include "core/text/text_layer.h"

namespace yelvin {

cv::Point2d mapped(const cv::Matx33d& map, cv::Point2d point); // a projective map applied to a point

// Returns the map from pixels of a page that was turned back by `degrees` to pixels of the page, whose size is `page`.
cv::Matx33d turned_by(int degrees, SizePx page);

// Returns the map from pixels of the layer to pixels of the developed page, which differ if the page was turned.
cv::Matx33d layer_to_page(const TextLayer& layer);
// Returns the box of a word or a paragraph on the developed page.
cv::Rect2d on_page(const cv::Rect& box, const TextLayer& layer);

// Returns the map from pixels of the layer of a page developed by `recipe` to pixels of its original.
cv::Matx33d layer_to_original(const TextLayer& layer, const Recipe& recipe, SizePx original, double dpi);

}
