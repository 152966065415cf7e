// Which words are set in bold.
#pragma once

#include "core/reading/text_layer.h"

#include <opencv2/core.hpp>

namespace yelvin {

// Marks words whose strokes are much thicker, against the height of their line, than those of most words. `grey` is
// black on white, the layer's places are in it.
void tell_bold(TextLayer& layer, const cv::Mat& grey);

}
