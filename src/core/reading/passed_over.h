// Short lines that the engine passes over: the last word of a paragraph by itself, which it takes for a speck where the
// print is coarse. Their ink tells: pieces as tall as letters, in a row at the distance of a line from lines that were
// read.
#pragma once

#include "core/raster/raster.h"
#include "core/reading/text_layer.h"

namespace yelvin {

// Lines without words' text yet, each with one word that is its ink's box. `page` is grey on white, and `layer` has its
// places in it.
std::vector<TextLine> passed_over_lines(const Raster& page, const TextLayer& layer);

}
