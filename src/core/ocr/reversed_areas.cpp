#include "core/ocr/reversed_areas.h"

#include "core/raster/raster.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <vector>

namespace yelvin {

namespace {

constexpr double look_dpi = 100;

double to_px(double mm) { return mm * look_dpi / 25.4; }

// Whether the dark area contains light shapes of the size of letters that are sharp and even enough to be type.
bool has_letters(const std::vector<std::vector<cv::Point>>& outlines, const std::vector<cv::Vec4i>& tree, int area) {
    int letters = 0, others = 0;
    for (int hole = tree[static_cast<size_t>(area)][2]; hole >= 0; hole = tree[static_cast<size_t>(hole)][0]) {
        const cv::Rect box = cv::boundingRect(outlines[static_cast<size_t>(hole)]);
        if (box.height < to_px(0.9) && box.width < to_px(0.9)) continue;
        const bool letter = box.height <= to_px(14) && box.width <= to_px(18) && box.height >= to_px(0.9);
        ++(letter ? letters : others);
    }
    return letters >= 4 && letters > 4 * others;
}

// Extends the areas to adjacent ground of the same darkness that is farther from their letters than the search radius,
// including the letters in it.
void take_in_their_ground(cv::Mat& areas, const cv::Mat& small) {
    const double ground = cv::mean(small, areas & (small < cv::mean(small, areas)[0]))[0];
    const cv::Mat as_dark = (small < 1.25 * ground) | areas;
    std::vector<std::vector<cv::Point>> outlines;
    std::vector<cv::Vec4i> tree;
    cv::findContours(as_dark, outlines, tree, cv::RETR_CCOMP, cv::CHAIN_APPROX_SIMPLE);
    for (int i = 0; i < static_cast<int>(outlines.size()); ++i) {
        if (tree[static_cast<size_t>(i)][3] >= 0) continue; // a hole
        const cv::Rect around = cv::boundingRect(outlines[static_cast<size_t>(i)]);
        cv::Mat piece = cv::Mat::zeros(around.size(), CV_8U);
        cv::drawContours(piece, outlines, i, 255, cv::FILLED, cv::LINE_8, {}, 0, -around.tl());
        if (cv::countNonZero(piece & areas(around)) == 0) continue;
        for (int hole = tree[static_cast<size_t>(i)][2]; hole >= 0; hole = tree[static_cast<size_t>(hole)][0])
            if (const cv::Rect box = cv::boundingRect(outlines[static_cast<size_t>(hole)]);
                box.height > to_px(14) || box.width > to_px(18))
                cv::drawContours(piece, outlines, hole, 0, cv::FILLED, cv::LINE_8, {}, 0, -around.tl());
        areas(around) |= piece;
    }
}

}

cv::Mat reversed_areas(const cv::Mat& grey, double dpi) {
    const double down = std::min(1.0, look_dpi / dpi);
    const cv::Mat small = scaled(grey, down, down, cv::INTER_AREA);
    // Dark pixels with much lighter ones nearby.
    cv::Mat lightest;
    const int around = 2 * static_cast<int>(to_px(15)) + 1;
    cv::dilate(small, lightest, cv::getStructuringElement(cv::MORPH_RECT, {around, around}));
    const cv::Mat dark = small < 0.5 * lightest;
    std::vector<std::vector<cv::Point>> outlines;
    std::vector<cv::Vec4i> tree;
    cv::findContours(dark, outlines, tree, cv::RETR_CCOMP, cv::CHAIN_APPROX_SIMPLE);
    cv::Mat areas = cv::Mat::zeros(small.size(), CV_8U);
    bool any = false;
    for (int i = 0; i < static_cast<int>(outlines.size()); ++i) {
        if (tree[static_cast<size_t>(i)][3] >= 0) continue; // a hole
        const auto& outline = outlines[static_cast<size_t>(i)];
        const cv::Rect box = cv::boundingRect(outline);
        if (box.height < to_px(2.5) || box.width < to_px(8) || !has_letters(outlines, tree, i)) continue;
        cv::Mat filled = cv::Mat::zeros(box.size(), CV_8U);
        cv::drawContours(filled, outlines, i, 255, cv::FILLED, cv::LINE_8, {}, 0, -box.tl());
        cv::Mat inside = dark(box) & filled;
        // Type covers about a quarter of its ground. A ring or a frame encloses a larger light area.
        if (cv::countNonZero(inside) < 0.55 * cv::countNonZero(filled)) continue;
        areas(box) |= filled;
        any = true;
    }
    if (!any) return {};
    take_in_their_ground(areas, small);
    cv::Mat full;
    cv::resize(areas, full, grey.size(), 0, 0, cv::INTER_LINEAR);
    return full > 127;
}

cv::Mat inverted(const cv::Mat& pixels, const cv::Mat& areas) {
    if (areas.empty()) return pixels;
    cv::Mat out = pixels.clone(), turned;
    cv::bitwise_not(pixels, turned);
    turned.copyTo(out, areas);
    return out;
}

}
