// The brightness of the paper everywhere on a page: that between the strokes of letters, continued under them. Pure
// functions.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

inline constexpr int even_paper = 200; // level of the paper after divided_by_light(), with room for what is brighter

// Returns a coarse map (a few pixels for each millimetre) of the paper's level in one channel. Type up to 12 mm thick
// is ignored.
cv::Mat paper_light(const cv::Mat& channel, double dpi);

// Returns the channel divided by its paper, times even_paper: CV_8UC1 of the channel's size.
cv::Mat divided_by_light(const cv::Mat& channel, const cv::Mat& light);

// Combines the channels of a page into one: each weighted by how well it separates ink from this paper, and coloured
// ink as dark as in its darkest channel. Takes colour or grey.
struct Evened {
    cv::Mat pixels;          // CV_8UC1, paper at even_paper
    bool was_needed = false; // whether the paper was dark, coloured or unevenly lit, or there is coloured ink
};
Evened evened(const cv::Mat& page, double dpi);

// The levels of the paper after evened(): the most frequent one and the spread above it.
struct PaperGrain {
    double level = even_paper, spread = 0;
};
PaperGrain paper_grain(const cv::Mat& even);

}
