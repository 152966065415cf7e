#include "core/ocr/line_picture.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

constexpr double x_to_tallest = 0.7; // an x against the tallest letters of its line, in most faces

cv::Rect reach(const TextLine& line) {
    cv::Rect all = line.words.front().box;
    for (const Word& word : line.words) all |= word.box;
    const double margin = 0.2 * line.ascent_px;
    const double top = std::min(line.baseline_start.y, line.baseline_end.y) - line.ascent_px - margin;
    const double bottom =
        std::max(line.baseline_start.y, line.baseline_end.y) + std::max(line.descent_px, 0.3 * line.ascent_px) + margin;
    const auto side = static_cast<int>(line.ascent_px);
    return {cv::Point{all.x - side, static_cast<int>(std::floor(top))},
            cv::Point{all.br().x + side, static_cast<int>(std::ceil(bottom))}};
}

}

LinePicture line_picture(const Raster& page, const TextLine& line, Preparation preparation) {
    const cv::Rect part = reach(line) & cv::Rect{{}, page.pixels.size()};
    const double x_height = std::max(4.0, x_to_tallest * line.ascent_px);
    if (part.width < 8 || part.height < 8) return {};
    const double target = preparation == Preparation::Small ? 15 : preparation == Preparation::Smoothed ? 30 : 24;
    LinePicture out;
    out.scale = std::clamp(target / x_height, 0.3, 4.0);
    out.origin = part.tl();
    cv::Mat pixels = page.pixels(part);
    if (preparation == Preparation::Small)
        cv::GaussianBlur(pixels, pixels, {}, 0.5 * std::max(0.6, 1 / out.scale - 0.4));
    pixels = scaled(pixels, out.scale, out.scale, out.scale > 1 ? cv::INTER_CUBIC : cv::INTER_AREA);
    if (preparation == Preparation::Smoothed) cv::GaussianBlur(pixels, pixels, {}, 1.8);
    if (preparation == Preparation::Bolder) {
        cv::Mat thick;
        cv::erode(pixels, thick, cv::getStructuringElement(cv::MORPH_CROSS, {3, 3}));
        cv::addWeighted(pixels, 0.35, thick, 0.65, 0, pixels);
        cv::GaussianBlur(pixels, pixels, {}, 0.7);
    }
    constexpr int rim = 12;
    cv::copyMakeBorder(pixels, pixels, rim, rim, rim, rim, cv::BORDER_CONSTANT, 255);
    out.origin -= cv::Point2d{rim / out.scale, rim / out.scale};
    out.picture = {pixels, page.dpi * out.scale, Ink::Grey};
    return out;
}

TextLine on_page(const TextLayer& read, const LinePicture& picture, const TextLine& line) {
    TextLine out = line;
    out.words.clear();
    for (const TextLine& each : read.lines) {
        for (Word word : each.words) {
            const auto at = [&](cv::Point p) {
                return cv::Point{static_cast<int>(std::lround(p.x / picture.scale + picture.origin.x)),
                                 static_cast<int>(std::lround(p.y / picture.scale + picture.origin.y))};
            };
            word.box = {at(word.box.tl()), at(word.box.br())};
            if (!word.box.empty()) out.words.push_back(std::move(word));
        }
    }
    return out;
}

}
