#include "core/seeing/ink.h"

#include "core/raster/ink_pieces.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

namespace {

constexpr double colour_dpi = 100;

// Sensors colour single dots at edges; what is at least two dots wide at 100 dpi in one strong tint is colour.
double coloured_mm2(const Raster& raster) {
    if (raster.ink != Ink::Colour) return 0;
    const Raster small = at_resolution(raster, colour_dpi);
    std::vector<cv::Mat> planes;
    cv::split(small.pixels, planes);
    // Balanced so that this page's paper is neutral: yellowed paper is not a colour that has to be kept.
    int levels[3], brightest = 1;
    for (int i = 0; i < 3; ++i)
        brightest = std::max(brightest, levels[i] = paper_level(planes[static_cast<size_t>(i)]));
    for (int i = 0; i < 3; ++i)
        planes[static_cast<size_t>(i)].convertTo(planes[static_cast<size_t>(i)], -1,
                                                 static_cast<double>(brightest) / std::max(1, levels[i]));
    cv::Mat high, low, chroma;
    cv::max(planes[0], planes[1], high);
    cv::max(high, planes[2], high);
    cv::min(planes[0], planes[1], low);
    cv::min(low, planes[2], low);
    cv::subtract(high, low, chroma);
    cv::threshold(chroma, chroma, 32, 255, cv::THRESH_BINARY);
    cv::morphologyEx(chroma, chroma, cv::MORPH_OPEN, cv::Mat::ones(2, 2, CV_8U));
    const double dot_mm = mm_per_inch / small.dpi;
    return cv::countNonZero(chroma) * dot_mm * dot_mm;
}

// What white would be on this page: the paper, or in a picture that fills the page, its lights.
int lightest(const Marks& marks) {
    int counts[256] = {}, passed = 0, level = 255;
    for (int y = 0; y < marks.grey.rows; y += 4) {
        const uchar* row = marks.grey.ptr(y);
        for (int x = 0; x < marks.grey.cols; ++x) ++counts[row[x]];
    }
    const int wanted = static_cast<int>(marks.grey.total() / 4 / 33); // three percent
    while (level > 0 && (passed += counts[level]) <= wanted) --level;
    return std::max(level, marks.paper);
}

struct Covered {
    double tone_percent = 0, solid_percent = 0;
};

// Middle tones in places without an edge (the blurred rims of letters are not tones), and areas that are dark all over:
// pictures cover the page; letters and lines do not, however many there are.
Covered covered(const Marks& marks) {
    const int white = lightest(marks);
    cv::Mat small, rim, tones, coarse, dark;
    constexpr double tone_dpi = 150, solid_dpi = 50;
    const double scale = std::min(1.0, tone_dpi / marks.dpi), again = std::min(1.0, solid_dpi / (marks.dpi * scale));
    small = scaled(marks.grey, scale, scale, cv::INTER_AREA);
    coarse = scaled(small, again, again, cv::INTER_AREA);
    cv::threshold(coarse, dark, white - 25, 255, cv::THRESH_BINARY_INV);
    cv::morphologyEx(dark, dark, cv::MORPH_OPEN, cv::Mat::ones(5, 5, CV_8U));
    Covered out;
    out.solid_percent = 100.0 * cv::countNonZero(dark) / static_cast<double>(dark.total());
    if (white - marks.print < 40) return out;
    cv::morphologyEx(small, rim, cv::MORPH_GRADIENT, cv::Mat::ones(5, 5, CV_8U));
    cv::inRange(small, marks.print + 30, white - 25, tones);
    tones.setTo(0, rim > 40);
    cv::morphologyEx(tones, tones, cv::MORPH_OPEN, cv::Mat::ones(5, 5, CV_8U));
    out.tone_percent = 100.0 * cv::countNonZero(tones) / static_cast<double>(tones.total());
    return out;
}

double faint_mm2(const Marks& marks) {
    cv::Mat black, lost;
    cv::threshold(marks.grey, black, black_threshold(marks.grey), 255, cv::THRESH_BINARY_INV);
    cv::dilate(black, black, cv::Mat::ones(7, 7, CV_8U)); // rims of what stays are not lost
    cv::bitwise_not(black, black);
    cv::bitwise_and(marks.mask, black, lost);
    cv::morphologyEx(lost, lost, cv::MORPH_OPEN, cv::Mat::ones(2, 2, CV_8U));
    // Words, notes and stamps; a longer thin line is a sheet's edge with its shadow.
    const double longest = mm_to_px(60, marks.dpi), thinnest = mm_to_px(2.5, marks.dpi),
                 dot_mm = mm_per_inch / marks.dpi;
    double area = 0;
    const InkPieces pieces = InkPieces::of(lost);
    for (const auto& [box, dots] : pieces.pieces())
        if (std::max(box.width, box.height) < longest || std::min(box.width, box.height) > thinnest) area += dots;
    return area * dot_mm * dot_mm;
}

}

InkNeed ink_need(const Raster& raster, const Marks& marks) {
    InkNeed need;
    need.colour_mm2 = coloured_mm2(raster);
    const Covered cover = covered(marks);
    need.tone_percent = cover.tone_percent;
    need.solid_percent = cover.solid_percent;
    need.faint_mm2 = faint_mm2(marks);
    if (need.colour_mm2 > 2.0)
        need.least = Ink::Colour;
    else if (raster.ink == Ink::Black)
        need.least = Ink::Black;
    else
        need.least = need.tone_percent > 0.3 || need.faint_mm2 > 1.0 ? Ink::Grey : Ink::Black;
    return need;
}

}
