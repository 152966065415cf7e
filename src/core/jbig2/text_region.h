// Symbol dictionaries and text regions of JBIG2 (ITU-T T.88, 6.4 and 6.5). Pure functions.
#pragma once

#include <opencv2/core.hpp>

#include <span>
#include <string>
#include <vector>

namespace yelvin {

// Returns the data of a symbol dictionary segment (7.4.2). `symbols` are CV_8UC1, not 0 is ink; they must be in the
// order of their heights and, of the same height, of their widths.
std::string symbol_dictionary(std::span<const cv::Mat> symbols);

// A symbol that is stored as a refinement of another one.
struct SymbolVariant {
    size_t symbol = 0; // index of the other one
    cv::Mat mask;      // CV_8UC1, not 0 is ink
    cv::Point offset;  // place of the other one's pixel (0, 0) on `mask`
};

// Returns the data of a symbol dictionary segment of variants, which refers to the dictionary of `symbols`. The
// variants must be in the same order as symbols. In a text region they are numbered after all symbols.
std::string variant_dictionary(std::span<const SymbolVariant> variants, std::span<const cv::Mat> symbols);

// A symbol in a text region.
struct SymbolInstance {
    size_t symbol = 0;
    cv::Rect box;     // its place on the page, which contains it
    cv::Mat exact;    // the pixels, of the size of `box`; empty: those of the symbol
    cv::Point offset; // place of the symbol's pixel (0, 0) on `exact`
};

// Returns the data of a text region segment (7.4.3) that covers the page. `symbols` are those of all dictionaries that
// the segment refers to.
std::string text_region(cv::Size page, std::vector<SymbolInstance> instances, std::span<const cv::Mat> symbols);

}
