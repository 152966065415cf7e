// Empty margins for symbols, with which the boxes of the symbols in a line of text stand on one line and touch each
// other. JBIG2 encodes the place of a symbol by its distance from the one before it: with margins, most distances are
// equal and take few bits.
#pragma once

#include <opencv2/core.hpp>

#include <span>
#include <vector>

namespace yelvin {

struct SymbolMargins {
    int left = 0, right = 0, bottom = 0; // px
};

// A symbol in its place.
struct PlacedSymbol {
    size_t page = 0;
    cv::Rect box; // of the symbol, px
    size_t symbol = 0;
};

// Returns the margins of `count` symbols. The places must be in the order of their pages. A pure function.
std::vector<SymbolMargins> margins_for(std::span<const PlacedSymbol> places, size_t count);

}
