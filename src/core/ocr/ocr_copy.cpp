#include "core/ocr/ocr_copy.h"

#include "core/ocr/paper_light.h"
#include "core/ocr/reversed_areas.h"
#include "core/ocr/ruled_lines.h"
#include "core/ocr/type_seen.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>

namespace yelvin {

namespace {

constexpr int blurred = 135; // edges less steep than this are out of focus; sharp print has 150 to 235

struct Levels {
    double white = 255, black = 0;
    double darkest = 0; // but for a few pixels
};

// Returns the level below which pixels are not paper or its grain, and the level of most of the ink.
Levels levels_of(const cv::Mat& even, const PaperGrain& paper) {
    const double white = paper.level - 2.5 * paper.spread;
    std::array<int, 256> counts{};
    int64_t ink = 0, seen = 0;
    for (int y = 0; y < even.rows; ++y)
        for (const uchar *at = even.ptr(y), *end = at + even.cols; at != end; ++at) ++counts[*at];
    const int under = std::max(0, static_cast<int>(std::min(white, paper.level - 12)));
    for (int i = 0; i < under; ++i) ink += counts[static_cast<size_t>(i)];
    int black = 0, darkest = 0;
    while (black < under && (seen += counts[static_cast<size_t>(black)]) < ink / 4) {
        if (seen < ink / 30) darkest = black;
        ++black;
    }
    return {white, std::min<double>(black, white - 8), std::min<double>(darkest, white - 8)};
}

cv::Mat stretched(const cv::Mat& even, const Levels& levels) {
    cv::Mat out;
    const double steep = 255 / (levels.white - levels.black);
    even.convertTo(out, CV_8U, steep, -levels.black * steep);
    return out;
}

// The steepness of the edges of the page's own print, in levels (0 to 255) per pixel, and the steepness at each pixel.
struct Edges {
    cv::Mat steep;
    int usual = 0; // The value of most edges; 0 if there is too little print to tell.
};

Edges edges_of(const cv::Mat& grey) {
    Edges edges{cv::Mat(grey.size(), CV_8U), 0};
    constexpr int band = 128; // rows: a picture of slopes takes twice the page's memory
    for (int from = 0; from < grey.rows; from += band) {
        const cv::Range rows(from, std::min(from + band, grey.rows));
        cv::Mat across, down, steep = edges.steep.rowRange(rows);
        cv::Sobel(grey.rowRange(rows), across, CV_16S, 1, 0);
        cv::Sobel(grey.rowRange(rows), down, CV_16S, 0, 1);
        cv::convertScaleAbs(across, across, 0.25);
        cv::convertScaleAbs(down, down, 0.25);
        cv::max(across, down, steep);
    }
    std::array<int, 256> steps{};
    int all = 0, seen = 0;
    for (int y = 0; y < grey.rows; y += 2) {
        const uchar *pixel = grey.ptr(y), *step = edges.steep.ptr(y);
        for (int x = 0; x < grey.cols; ++x)
            if (pixel[x] < 100 && step[x] > 10) ++steps[step[x]], ++all;
    }
    int usual = 255;
    while (usual > 0 && (seen += steps[static_cast<size_t>(usual)]) * 5 < all) --usual;
    if (all >= 250 && usual >= 20) edges.usual = usual;
    return edges;
}

// Lightens print that shines through from the other side. It is recognised as pale and without a steep edge nearby.
void lift_what_shines_through(cv::Mat& grey, Edges& edges) {
    cv::dilate(edges.steep, edges.steep, cv::getStructuringElement(cv::MORPH_RECT, {5, 5}));
    for (int y = 0; y < grey.rows; ++y) {
        const uchar* steep = edges.steep.ptr(y);
        uchar* pixel = grey.ptr(y);
        for (int x = 0; x < grey.cols; ++x)
            if (steep[x] < 0.25 * edges.usual && pixel[x] > 90) pixel[x] = 255;
    }
}

void sharpen(cv::Mat& grey) {
    cv::Mat soft;
    cv::GaussianBlur(grey, soft, {}, 2.0);
    cv::addWeighted(grey, 1.6, soft, -0.6, 0, grey);
}

// The OCR engine scales each line to a fixed height, but it finds letters and lines less reliably in small type and
// more slowly in large type. On the hard pages of the tests, an x-height from 16 to 30 pixels makes no difference.
double scale_for(double x_height_px) {
    if (x_height_px <= 0) return 1;
    if (x_height_px < 14) return std::min(2.5, 18 / x_height_px);
    if (x_height_px > 40) return 28 / x_height_px;
    return 1;
}

void bring_to_size(OcrCopy& copy, double x_height_px) {
    copy.scale = scale_for(x_height_px);
    copy.dpi *= copy.scale;
    if (copy.scale != 1)
        copy.grey = scaled(copy.grey, copy.scale, copy.scale, copy.scale > 1 ? cv::INTER_CUBIC : cv::INTER_AREA);
}

// A black page needs no cleaning: its paper is white and its ink black already.
OcrCopy black_copy(const Raster& page) {
    OcrCopy copy{page.pixels, 1, page.dpi};
    const cv::Mat areas = reversed_areas(page.pixels, page.dpi);
    copy.grey = areas.empty() ? page.pixels.clone() : inverted(page.pixels, areas);
    const TypeSeen type = look_at_type(copy.grey, 128, page.dpi);
    remove_ruled_lines(copy.grey, page.dpi, 255, 1);
    if (type.specks) erase_specks(copy.grey, 128, type.x_height_px, 255);
    bring_to_size(copy, type.x_height_px);
    return copy;
}

}

OcrCopy copy_for_ocr(const Raster& page) {
    if (page.ink == Ink::Black) return black_copy(page);
    OcrCopy copy{{}, 1, page.dpi}; // The picture is created later, where it is needed, to save memory.
    const cv::Mat reversed = reversed_areas(grey_pixels(page), page.dpi);
    const cv::Mat pixels = inverted(page.pixels, reversed);
    auto [even, was_needed] = evened(pixels, page.dpi);
    PaperGrain paper = paper_grain(even);
    Levels levels = levels_of(even, paper);
    TypeSeen type = look_at_type(even, (levels.white + levels.black) / 2, page.dpi);
    if (type.screen_px > 0) {
        cv::Mat melted;
        cv::GaussianBlur(pixels, melted, {}, 0.4 * type.screen_px);
        even = evened(melted, page.dpi).pixels;
        paper = paper_grain(even);
        levels = levels_of(even, paper);
        type = look_at_type(even, (levels.white + levels.black) / 2, page.dpi);
        was_needed = true;
    }
    const double contrast = levels.white - levels.black;
    const bool ruled = remove_ruled_lines(even, page.dpi, paper.level, paper.spread);
    // A page with black print on even white paper is passed on as it is. So is a page with hardly any letters: cleaning
    // it would only make its paper resemble letters.
    const bool bare = type.x_height_px <= 0 && contrast < 60;
    if (bare) {
        copy.grey = grey_pixels(page);
        return copy;
    }
    if (was_needed || ruled || !reversed.empty() || type.specks || levels.white - levels.darkest < 110 ||
        contrast < 25 * paper.spread) {
        if (type.specks) erase_specks(even, levels.white - 10, type.x_height_px, paper.level);
        if (contrast < 8 * paper.spread) cv::GaussianBlur(even, even, {}, 0.8);
        copy.grey = stretched(even, levels);
        even.release();
        if (Edges edges = edges_of(copy.grey); edges.usual >= blurred)
            lift_what_shines_through(copy.grey, edges);
        else if (edges.usual > 0)
            sharpen(copy.grey);
    } else {
        even.release();
        copy.grey = grey_pixels(page);
    }
    bring_to_size(copy, type.x_height_px);
    return copy;
}

}
