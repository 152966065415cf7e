// Finds the symbols of pages: pieces of ink, mostly letters, that occur more than once or resemble each other.
//
// A symbol stands for the pieces that resemble it, but only as what they are encoded by: each piece is restored to the
// exact pixels that it has on its page.
//
// Used by one thread at a time.
#pragma once

#include "core/jbig2/packed_bitmap.h"
#include "core/raster/ink_pieces.h"

#include <optional>
#include <unordered_map>
#include <vector>

namespace yelvin {

// A piece of ink on a page.
struct PlacedBitmap {
    cv::Point at;      // place of its upper left pixel
    size_t bitmap = 0; // index in SymbolFinder::bitmaps()
};

// How a bitmap is encoded by a symbol.
struct SymbolUse {
    size_t symbol = 0;     // index in Symbols::symbols
    cv::Point offset;      // place of the symbol's pixel (0, 0) on the bitmap
    bool is_exact = false; // whether the symbol has the same pixels
    bool repeats = false;  // whether the bitmap occurs often enough to be stored once, as a variant of the symbol
};

struct Symbols {
    std::vector<PackedBitmap> symbols;
    std::vector<std::optional<SymbolUse>> uses; // of each bitmap; nullopt: it resembles no other
};

class SymbolFinder {
  public:
    // The pieces of a page: those of which bitmaps were made, and the indices of all others, which are too small or
    // too large to be letters. Pages with very many pieces are pictures, of which no bitmaps are made.
    struct PageOfBitmaps {
        std::vector<PlacedBitmap> placed;
        std::vector<size_t> others;
    };
    PageOfBitmaps add(const InkPieces& pieces);

    // The different bitmaps of all pages.
    const std::vector<PackedBitmap>& bitmaps() const { return bitmaps_; }

    // Returns the symbols of the pages that were added. Takes time in proportion to the number of bitmaps, times up to
    // 300 comparisons.
    Symbols found() const;

  private:
    std::vector<PackedBitmap> bitmaps_;
    std::vector<int> counts_; // how often each bitmap occurs
    std::unordered_multimap<size_t, size_t> by_hash_;

    size_t index_of(PackedBitmap bitmap);
};

}
