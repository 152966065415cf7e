#include "core/seeing/ink.h"

#include "core/raster/ink_pieces.h"
#include "core/seeing/channels.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

namespace yelvin {

namespace {

constexpr double colour_dpi = 100;
constexpr double least_chroma = 20; // levels between the channels
constexpr double most_stray_colour_mm2 = 2.0;

// Returns the area that keeps a tint, with its sign, averaged over 0.5 mm. Values are not clipped at white, because on
// tinted paper white is a colour. `planes`: blue, green, red at `dpi`.
double tinted_mm2(std::vector<cv::Mat> planes, double dpi) {
    // Relative to this page's paper, because the yellowing of a whole page need not be kept.
    int levels[3], brightest = 1;
    for (size_t i = 0; i < 3; ++i) brightest = std::max(brightest, levels[i] = paper_level(planes[i]));
    for (size_t i = 0; i < 3; ++i)
        planes[i].convertTo(planes[i], CV_16S, static_cast<double>(brightest) / std::max(1, levels[i]));
    const int window = std::max(1, static_cast<int>(std::lround(mm_to_px(0.5, dpi))));
    const auto tint_of = [&](const cv::Mat& channel) {
        cv::Mat tint;
        cv::subtract(channel, planes[1], tint);
        cv::blur(tint, tint, {window, window});
        return tint;
    };
    const cv::Mat red = tint_of(planes[2]), blue = tint_of(planes[0]);
    cv::Mat chroma, strong;
    cv::absdiff(red, blue, chroma);
    for (const cv::Mat& tint : {red, blue}) cv::max(chroma, cv::abs(tint), chroma);
    strong = chroma > least_chroma;
    cv::morphologyEx(strong, strong, cv::MORPH_OPEN, cv::Mat::ones(2, 2, CV_8U));
    const double pixel_mm = mm_per_inch / dpi;
    return cv::countNonZero(strong) * pixel_mm * pixel_mm;
}

// A sensor whose channels are not aligned shows red on one side of print and green on the other. The average cancels
// these out, except for broad print, whose sides are too far apart. So if a page seems coloured, the channels are
// aligned and the question is asked again.
double coloured_mm2(const Raster& raster) {
    if (raster.ink != Ink::Colour) return 0;
    const double dpi = std::min(raster.dpi, colour_dpi);
    std::vector<cv::Mat> planes;
    cv::split(at_resolution(raster, colour_dpi).pixels, planes);
    const double at_first = tinted_mm2(std::move(planes), dpi);
    if (at_first <= most_stray_colour_mm2) return at_first;
    planes = registered_channels(raster.pixels);
    if (planes.empty()) return at_first;
    for (cv::Mat& plane : planes) {
        plane = at_resolution({plane, raster.dpi, Ink::Grey}, colour_dpi).pixels;
        constexpr int rim = 3; // Pixels at the edge that a displaced channel repeats.
        if (std::min(plane.cols, plane.rows) > 8 * rim)
            plane = plane(cv::Rect(rim, rim, plane.cols - 2 * rim, plane.rows - 2 * rim));
    }
    return tinted_mm2(std::move(planes), dpi);
}

// The level of white on this page: its paper or, for a picture that fills the page, its highlights.
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

// Middle tones in places without an edge (the blurred edges of letters are not tones), and areas that are dark all
// over: pictures cover the page; letters and lines do not, however many there are.
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
    cv::dilate(black, black, cv::Mat::ones(7, 7, CV_8U)); // The soft edges of marks that stay are not lost.
    cv::bitwise_not(black, black);
    cv::bitwise_and(marks.mask, black, lost);
    cv::morphologyEx(lost, lost, cv::MORPH_OPEN, cv::Mat::ones(2, 2, CV_8U));
    // Words, notes and stamps count. A longer thin line is the edge of a sheet with its shadow.
    const double longest = mm_to_px(60, marks.dpi), thinnest = mm_to_px(2.5, marks.dpi),
                 pixel_mm = mm_per_inch / marks.dpi;
    double area = 0;
    const InkPieces pieces = InkPieces::of(lost);
    for (const auto& [box, area_px] : pieces.pieces())
        if (std::max(box.width, box.height) < longest || std::min(box.width, box.height) > thinnest) area += area_px;
    return area * pixel_mm * pixel_mm;
}

}

InkNeed ink_need(const Raster& raster, const Marks& marks) {
    InkNeed need;
    need.colour_mm2 = coloured_mm2(raster);
    const Covered cover = covered(marks);
    need.tone_percent = cover.tone_percent;
    need.solid_percent = cover.solid_percent;
    need.faint_mm2 = faint_mm2(marks);
    if (need.colour_mm2 > most_stray_colour_mm2)
        need.least = Ink::Colour;
    else if (raster.ink == Ink::Black)
        need.least = Ink::Black;
    else
        need.least = need.tone_percent > 0.3 || need.faint_mm2 > 1.0 ? Ink::Grey : Ink::Black;
    return need;
}

}
