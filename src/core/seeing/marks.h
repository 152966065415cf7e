// The marks on a page (everything darker or more colourful than the paper around it) and the letters among them, from
// which notice() derives its observations. Pure functions.
#pragma once

#include "core/raster/raster.h"

#include <vector>

namespace yelvin {

struct Marks {
    cv::Mat grey;     // the page in grey, CV_8UC1
    cv::Mat strength; // how much darker than the paper around it, CV_8UC1
    cv::Mat mask;     // 255 where a mark is, without specks and what touches the edge (the lid beside a crooked sheet)
    cv::Mat all;      // the mask with these
    double dpi = 0;
    int paper = 255; // grey level of the paper
    int print = 0;   // grey level of the darker ink (the darkest percent of the marks)
};

Marks find_marks(const Raster& raster);

struct Letters {
    std::vector<cv::Rect> boxes; // px of the marks' raster
};

// Returns the components between 0.8 and 12 mm high that are neither ruled lines nor blots.
Letters letters(const Marks& marks);

}
