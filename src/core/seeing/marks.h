// The marks on a page: everything darker or more colourful than the paper around it, as a mask, and the letters among
// them. What the observations of notice() are made from.
#pragma once

#include "core/raster/raster.h"

#include <vector>

namespace yelvin {

struct Marks {
    cv::Mat grey;     // the page in grey, CV_8UC1
    cv::Mat strength; // how much darker than the paper around it, CV_8UC1
    cv::Mat mask;     // 255 where a mark is, specks and what runs into the rim (the lid beside a
                      // crooked sheet) left out
    cv::Mat all;      // the mask before specks and what runs into the rim were left out
    double dpi = 0;
    int paper = 255; // grey level of the paper
    int print = 0;   // grey level of the darker ink (the darkest percent of the marks)
};

Marks find_marks(const Raster& raster);

struct Letters {
    std::vector<cv::Rect> boxes; // px of the marks' raster
};

// Components between 0.8 and 12 mm high that are neither rules nor blots.
Letters letters(const Marks& marks);

}
