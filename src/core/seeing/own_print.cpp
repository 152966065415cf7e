#include "core/seeing/own_print.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

namespace yelvin {

namespace {

// Letters of a word: how much their lower edges may differ and how far apart they may be, relative to a letter's
// height; how many there must be, and which share of all marks.
constexpr double same_foot = 0.18, widest_gap = 0.8, least_in_words = 0.08;
constexpr size_t fewest_in_words = 20;
// How much the strokes of one page may differ, relative to the usual one, and how many must be similar.
constexpr double alike_strokes = 0.3, common_share = 0.6;
constexpr double widest_stroke = 0.4; // of a letter's height: the boldest faces have 0.3 (measured on fonts-urw-base35)

// Whether letters are distributed over the page: the box around nine tenths of them covers a large part of it.
bool are_spread(const Letters& letters, cv::Size page) {
    std::vector<int> left, right, top, bottom;
    for (const cv::Rect& box : letters.boxes) {
        left.push_back(box.x), right.push_back(box.br().x);
        top.push_back(box.y), bottom.push_back(box.br().y);
    }
    const auto at = [](std::vector<int>& values, double share) {
        const auto place = values.begin() + static_cast<ptrdiff_t>(share * static_cast<double>(values.size() - 1));
        std::ranges::nth_element(values, place);
        return *place;
    };
    constexpr double apart = 0.05, good_part = 0.35;
    const double across = at(right, 1 - apart) - at(left, apart), down = at(bottom, 1 - apart) - at(top, apart);
    return across * down >= good_part * page.area();
}

// The level of white on a page with pictures: the level that three percent of it exceed, or its paper.
int white_of(const cv::Mat& grey, int paper) {
    std::vector<uchar> levels(grey.begin<uchar>(), grey.end<uchar>());
    const auto place = levels.begin() + static_cast<ptrdiff_t>(0.97 * static_cast<double>(levels.size() - 1));
    std::ranges::nth_element(levels, place);
    return std::max<int>(paper, *place);
}

// Whether letters are on the paper that extends to the edge of the page. The white ground of a poster does not.
bool stand_on_its_paper(const Letters& letters, const Marks& marks) {
    constexpr double coarse_dpi = 50;
    const double by = std::min(1.0, coarse_dpi / marks.dpi);
    cv::Mat small = scaled(marks.grey, by, by, cv::INTER_AREA), light;
    cv::threshold(small, light, white_of(small, marks.paper) - 25, 255, cv::THRESH_BINARY);
    // Closes gaps that letters leave in the paper.
    const int bridged = 2 * static_cast<int>(mm_to_px(2, coarse_dpi)) + 1;
    cv::morphologyEx(light, light, cv::MORPH_CLOSE, cv::Mat::ones(bridged, bridged, CV_8U));
    constexpr uchar own = 128;
    const auto take = [&](int x, int y) {
        if (light.at<uchar>(y, x) == 255) cv::floodFill(light, {x, y}, own);
    };
    for (int x = 0; x < light.cols; ++x) take(x, 0), take(x, light.rows - 1);
    for (int y = 0; y < light.rows; ++y) take(0, y), take(light.cols - 1, y);
    const auto on_paper = std::ranges::count_if(letters.boxes, [&](const cv::Rect& box) {
        const int x = static_cast<int>((box.x + box.width / 2.0) * by),
                  y = static_cast<int>((box.y + box.height / 2.0) * by);
        return light.at<uchar>(std::min(y, light.rows - 1), std::min(x, light.cols - 1)) == own;
    });
    return 2 * static_cast<size_t>(on_paper) > letters.boxes.size();
}

// Whether most letters consist of strokes of one width, much narrower than the letters are high. The width of a stroke
// is twice its area divided by the length of its outline. The shapes of a texture vary much more, and bricks are as
// wide as they are high.
bool have_a_common_stroke(const Letters& letters, const Marks& marks) {
    constexpr size_t enough = 500; // letters that are looked at, evenly taken
    const size_t step = std::max<size_t>(1, letters.boxes.size() / enough);
    std::vector<double> widths, heights;
    for (size_t i = 0; i < letters.boxes.size(); i += step) {
        const cv::Mat ink = marks.mask(letters.boxes[i] & cv::Rect({}, marks.mask.size()));
        cv::Mat inside;
        cv::erode(ink, inside, cv::getStructuringElement(cv::MORPH_CROSS, {3, 3}), {-1, -1}, 1, cv::BORDER_CONSTANT,
                  cv::Scalar::all(0));
        const int area = cv::countNonZero(ink), outline = area - cv::countNonZero(inside);
        if (outline > 0) widths.push_back(2.0 * area / outline), heights.push_back(ink.rows);
    }
    if (widths.empty()) return false;
    const auto middle = widths.begin() + static_cast<ptrdiff_t>(widths.size() / 2);
    std::ranges::nth_element(widths, middle);
    const double usual = *middle;
    const auto tall = heights.begin() + static_cast<ptrdiff_t>(heights.size() / 2);
    std::ranges::nth_element(heights, tall);
    if (usual > widest_stroke * *tall) return false;
    const auto alike =
        std::ranges::count_if(widths, [&](double w) { return std::abs(w - usual) <= alike_strokes * usual; });
    return static_cast<double>(alike) >= common_share * static_cast<double>(widths.size());
}

// Counts the letters that have another one of similar height close by on either side, on the same line: those within
// words. Marks of a texture have that only by chance.
size_t within_words(const Letters& letters, const TextTilt& tilt) {
    struct Placed {
        double x, foot, wide, tall;
    };
    const double a = tilt.degrees * CV_PI / 180, c = std::cos(a), s = std::sin(a);
    std::vector<Placed> placed;
    for (const cv::Rect& box : letters.boxes) {
        const double x = box.x + box.width / 2.0, y = box.y + box.height / 2.0;
        const double along = x * c + y * s, down = y * c - x * s;
        // For text that runs up or down the page, lower edges to the left and to the right are treated alike, by using
        // the middle.
        if (tilt.across)
            placed.push_back({down, along, static_cast<double>(box.height), static_cast<double>(box.width)});
        else
            placed.push_back(
                {along, down + box.height / 2.0, static_cast<double>(box.width), static_cast<double>(box.height)});
    }
    std::ranges::sort(placed, {}, &Placed::foot);
    size_t within = 0;
    for (size_t i = 0; i < placed.size(); ++i) {
        const Placed& letter = placed[i];
        const double level = same_foot * letter.tall;
        bool before = false, after = false;
        const auto look = [&](const Placed& other) {
            const double gap = std::abs(other.x - letter.x) - (other.wide + letter.wide) / 2;
            if (gap > widest_gap * letter.tall || gap < -0.3 * letter.tall) return;
            if (other.tall > 1.9 * letter.tall || letter.tall > 1.9 * other.tall) return;
            (other.x < letter.x ? before : after) = true;
        };
        for (size_t j = i; j-- > 0 && letter.foot - placed[j].foot <= level;) look(placed[j]);
        for (size_t j = i + 1; j < placed.size() && placed[j].foot - letter.foot <= level; ++j) look(placed[j]);
        within += before && after;
    }
    return within;
}

OwnPrint print_of(const Marks& marks, const Letters& letters) {
    OwnPrint out;
    out.letters = static_cast<int>(letters.boxes.size());
    if (letters.boxes.empty() || !(are_spread(letters, marks.grey.size()) || stand_on_its_paper(letters, marks)))
        return out;
    out.tilt = text_tilt(letters);
    if (!out.tilt) return out;
    const size_t within = within_words(letters, *out.tilt);
    out.is_text = within >= fewest_in_words &&
                  static_cast<double>(within) >= least_in_words * static_cast<double>(letters.boxes.size()) &&
                  have_a_common_stroke(letters, marks);
    return out;
}

}

OwnPrint own_print(const Raster& work, const Marks& marks, const Letters& letters, bool covered) {
    if (!covered) return {text_tilt(letters), static_cast<int>(letters.boxes.size()), false};
    OwnPrint dark = print_of(marks, letters);
    if (dark.is_text) return dark;
    Raster turned_round = work;
    turned_round.pixels = 255 - grey_pixels(work);
    turned_round.ink = work.ink == Ink::Black ? Ink::Black : Ink::Grey;
    const Marks light_marks = find_marks(turned_round);
    OwnPrint light = print_of(light_marks, yelvin::letters(light_marks));
    return light.is_text ? light : dark;
}

}
