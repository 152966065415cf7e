// Recognising words in bold. May be called on any thread.
#pragma once

#include "core/text/text_layer.h"

#include <opencv2/core.hpp>

namespace yelvin {

// Sets Word::bold for words whose strokes, relative to the height of their line, are much thicker than those of most
// words. `grey` is CV_8UC1, black on white, and has the layer's coordinates.
void mark_bold(TextLayer& layer, const cv::Mat& grey);

}
