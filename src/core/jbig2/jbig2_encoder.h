// Encodes black-and-white pages as JBIG2 (ITU-T T.88 | ISO/IEC 14492) without loss, as PDF embeds it (ISO 32000-1,
// 7.4.7).
//
// Letters that occur more than once, on any of the pages, are stored once: in a dictionary that all pages share. A
// letter that only resembles another is stored as its difference from that one, to the exact pixel, so no letter can
// ever stand for another. Everything else is stored as pixels.
#pragma once

#include "core/jbig2/symbols.h"

#include <opencv2/core.hpp>

#include <string>
#include <vector>

namespace yelvin {

struct Jbig2Document {
    std::string globals;            // the segments that all pages need; may be empty
    std::vector<std::string> pages; // the segments of each page
};

// Memory: about 0.5 MB for each page of text. Used by one thread at a time; errors do not occur.
class Jbig2Encoder {
  public:
    // Adds a page. `ink` is CV_8UC1, not 0 is ink, at least 1 x 1; it is not needed afterwards.
    void add(const cv::Mat& ink, double dpi);
    size_t page_count() const { return pages_.size(); }

    // Encodes the pages that were added, in their order, and forgets them.
    Jbig2Document finish();

  private:
    struct Page {
        cv::Size size;
        double dpi = 0;
        std::vector<PlacedBitmap> placed;
        std::vector<InkPieces::Run> others; // the ink that is in no bitmap
    };
    std::vector<Page> pages_;
    SymbolFinder finder_;
};

// Encodes a single page as pixels, without symbols: faster, and for pictures as small.
std::string jbig2_of_pixels(const cv::Mat& ink, double dpi);

}
