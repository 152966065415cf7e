// How bright the paper is, all over a page: what lies between the strokes of letters, carried on under them.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

inline constexpr int even_paper = 200; // where divided() puts the paper: what is brighter still has room above it

// One channel's paper, a few dots a millimetre. Type up to 12 mm thick does not count as paper.
cv::Mat paper_light(const cv::Mat& channel, double dpi);

// The channel as a share of its paper, times even_paper. CV_8UC1, of the channel's size.
cv::Mat divided(const cv::Mat& channel, const cv::Mat& light);

// The page in one darkness: the channels by how well each tells ink from this paper, and an ink that is dark in some
// channels only as dark as in its darkest. Takes colour or grey.
struct Evened {
    cv::Mat dots;            // CV_8UC1, paper at even_paper
    bool was_needed = false; // the paper was dark, coloured or unevenly lit, or there is coloured ink
};
Evened evened(const cv::Mat& page, double dpi);

// How the paper's own dots lie after evened(): the most frequent level and the spread above it.
struct PaperGrain {
    double level = even_paper, spread = 0;
};
PaperGrain paper_grain(const cv::Mat& even);

}
