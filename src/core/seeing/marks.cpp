#include "core/seeing/marks.h"

#include "core/raster/ink_pieces.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

// Returns the brightness of the paper everywhere, with marks removed by a closing (the brightest within 6 mm, shrunk
// back) at a coarse scale.
cv::Mat background(const cv::Mat& grey, double dpi) {
    constexpr double coarse_dpi = 25;
    const double scale = std::min(1.0, coarse_dpi / dpi);
    cv::Mat small = scaled(grey, scale, scale, cv::INTER_AREA);
    const int reach = 2 * static_cast<int>(std::lround(mm_to_px(3.0, coarse_dpi))) + 1;
    cv::morphologyEx(small, small, cv::MORPH_CLOSE, cv::getStructuringElement(cv::MORPH_RECT, {reach, reach}));
    cv::blur(small, small, {5, 5});
    cv::Mat out;
    cv::resize(small, out, grey.size(), 0, 0, cv::INTER_LINEAR);
    return out;
}

// The level below which one percent of the page is.
int dark_level(const cv::Mat& grey) {
    int counts[256] = {}, passed = 0, level = 0;
    for (int y = 0; y < grey.rows; ++y) {
        const uchar* row = grey.ptr(y);
        for (int x = 0; x < grey.cols; ++x) ++counts[row[x]];
    }
    const int wanted = static_cast<int>(grey.total() / 100);
    while (level < 255 && (passed += counts[level]) <= wanted) ++level;
    return level;
}

// The spread of the paper's grain: the median of the small differences, converted to a standard deviation.
double grain(const cv::Mat& strength) {
    int counts[256] = {};
    for (int y = 0; y < strength.rows; y += 3) {
        const uchar* row = strength.ptr(y);
        for (int x = 0; x < strength.cols; x += 3) ++counts[row[x]];
    }
    const int all = ((strength.rows + 2) / 3) * ((strength.cols + 2) / 3);
    int passed = 0, level = 0;
    while (level < 255 && (passed += counts[level]) < all / 2) ++level;
    return level;
}

}

Marks find_marks(const Raster& raster) {
    Marks out;
    out.grey = grey_pixels(raster);
    out.dpi = raster.dpi;
    out.paper = paper_level(out.grey);
    cv::subtract(background(out.grey, raster.dpi), out.grey, out.strength);
    const double limit = std::clamp(12 + 2 * grain(out.strength), 12.0, 60.0);
    cv::threshold(out.strength, out.mask, limit, 255, cv::THRESH_BINARY);
    out.all = out.mask.clone();

    const InkPieces pieces = InkPieces::of(out.mask);
    const double speck = std::max(2.0, 0.02 * out.dpi * out.dpi / (mm_per_inch * mm_per_inch)); // 0.02 mm²
    const cv::Rect inner(2, 2, std::max(0, out.mask.cols - 4), std::max(0, out.mask.rows - 4));
    const auto is_left_out = [&](const InkPiece& piece) {
        return (piece.box & inner) != piece.box || piece.area < speck;
    };
    pieces.set(out.mask, 0, is_left_out);
    int counts[256] = {}, marked = 0;
    for (const InkPieces::Run& run : pieces.runs()) {
        if (is_left_out(pieces.pieces()[run.piece])) continue;
        const uchar* row = out.grey.ptr(run.y);
        for (int x = run.from; x < run.to; ++x) ++counts[row[x]];
        marked += run.to - run.from;
    }
    for (int passed = 0; out.print < 255 && (passed += counts[out.print]) < marked / 100 + 1;) ++out.print;
    // For a picture that fills the page and has no marks on paper.
    out.print = std::min(out.print, dark_level(out.grey));
    return out;
}

Letters letters(const Marks& marks) {
    // Print is detected at half its own strength, so that letters do not merge.
    cv::Mat print;
    const int strong = std::max(20, (marks.paper - marks.print) / 2);
    cv::threshold(marks.strength, print, strong, 255, cv::THRESH_BINARY);
    Letters out;
    const double least = mm_to_px(0.8, marks.dpi), most = mm_to_px(12, marks.dpi);
    const InkPieces pieces = InkPieces::of(print);
    for (const auto& [box, area] : pieces.pieces()) {
        const int longer = std::max(box.width, box.height), shorter = std::min(box.width, box.height);
        const double filled = static_cast<double>(area) / box.area();
        const bool letter_sized = longer >= least && longer <= most && shorter * 8 >= longer;
        if (letter_sized && filled > 0.12 && filled < 0.98) out.boxes.push_back(box);
    }
    return out;
}

}
