// Finding short lines that the engine passes over, such as the last word of a paragraph, which it takes for a speck if
// the print is coarse. They are pieces of ink as tall as letters, in a row at a line's distance from lines that were
// read. Internal to Reader.
#pragma once

#include "core/raster/raster.h"
#include "core/text/text_layer.h"

namespace yelvin {

// Returns such lines, each with one word without text whose box is the ink. `page` is grey on white and has the layer's
// coordinates.
std::vector<TextLine> passed_over_lines(const Raster& page, const TextLayer& layer);

}
