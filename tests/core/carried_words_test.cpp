// Words that follow the changes of their page. The truth comes from develop(): marks are put on an original, and the
// page that is developed in another way shows where they are.
#include "core/text/carried_words.h"

#include "core/developing/develop.h"

#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

constexpr double dpi = 100;
constexpr int width = 600, height = 850;

// Bars in place of words, each with its own length, on a sheet that is not square.
Raster marked() {
    Raster sheet{cv::Mat(height, width, CV_8UC1, cv::Scalar(255)), dpi, Ink::Grey};
    for (int i = 0; i < 24; ++i)
        cv::rectangle(sheet.pixels, cv::Rect(60 + 170 * (i % 3), 80 + 85 * (i / 3), 40 + 3 * i, 14), 0, cv::FILLED);
    return sheet;
}

std::vector<cv::Rect> bars_on(const Raster& page) {
    cv::Mat labels, stats, centres;
    const int count = cv::connectedComponentsWithStats(page.pixels < 128, labels, stats, centres);
    std::vector<cv::Rect> bars;
    for (int i = 1; i < count; ++i)
        bars.emplace_back(stats.at<int>(i, 0), stats.at<int>(i, 1), stats.at<int>(i, 2), stats.at<int>(i, 3));
    return bars;
}

bool is_cut(const cv::Rect& bar, const Raster& page) {
    return bar.x <= 1 || bar.y <= 1 || bar.br().x >= page.width_px() - 1 || bar.br().y >= page.height_px() - 1;
}

TextLayer read_off(const Raster& page, double confidence) {
    TextLayer layer{{}, page.width_px(), page.height_px(), "eng"};
    for (const cv::Rect& bar : bars_on(page)) {
        if (is_cut(bar, page)) continue;
        const double base = bar.br().y;
        layer.lines.push_back({{{"bar", bar, confidence}},
                               {static_cast<double>(bar.x), base},
                               {static_cast<double>(bar.br().x), base},
                               14,
                               0});
    }
    return layer;
}

// Returns the place of a layer's word on its page.
cv::Rect2d on_the_page(const TextLayer& layer, const cv::Rect& box) {
    const double w = layer.width_px, h = layer.height_px;
    switch (layer.turned_degrees) {
    case 90:
        return {h - box.br().y, static_cast<double>(box.x), static_cast<double>(box.height),
                static_cast<double>(box.width)};
    case 180:
        return {w - box.br().x, h - box.br().y, static_cast<double>(box.width), static_cast<double>(box.height)};
    case 270:
        return {static_cast<double>(box.y), w - box.br().x, static_cast<double>(box.height),
                static_cast<double>(box.width)};
    default:
        return box;
    }
}

constexpr SizePx size{width, height};

TEST(CarriedWords, AreAtTheirPlaceOnThePage) {
    const Raster sheet = marked();
    std::vector<Recipe> recipes{{}, {}, {}, {}, {}, {}};
    recipes[1].turn_degrees = 90;
    recipes[2].turn_degrees = 180;
    recipes[3] = {270, RectMm{10, 8, 190, 120}};
    recipes[4] = {0, RectMm{14, 19, 100, 150}, 1.5};
    recipes[5] = {90, RectMm{20, 12, 150, 110}, -2};
    for (size_t from : {0U, 1U, 3U}) {
        const TextLayer layer = read_off(develop(sheet, recipes[from]), 95);
        for (size_t to = 0; to < recipes.size(); ++to) {
            const Raster now = develop(sheet, recipes[to]);
            const TextLayer carried = carried_words(layer, recipes[from], recipes[to], size, dpi);
            const auto bars = bars_on(now);
            size_t whole = 0;
            for (const TextLine& line : carried.lines) {
                const cv::Rect2d there = on_the_page(carried, line.words.front().box);
                const cv::Point2d middle = (there.tl() + there.br()) / 2;
                const auto bar = std::ranges::min_element(
                    bars, {}, [&](const cv::Rect& b) { return cv::norm(cv::Point2d(b.tl() + b.br()) / 2 - middle); });
                ASSERT_NE(bar, bars.end());
                if (is_cut(*bar, now)) continue;
                ++whole;
                EXPECT_LT(cv::norm(cv::Point2d(bar->tl() + bar->br()) / 2 - middle), mm_to_px(0.5, dpi))
                    << from << " to " << to;
                const double longer = std::max(bar->width, bar->height),
                             carried_longer = std::max(there.width, there.height);
                EXPECT_NEAR(longer, carried_longer, mm_to_px(0.7, dpi)) << from << " to " << to;
            }
            EXPECT_GE(whole, from == 0 && to < 3 ? 24U : 6U) << from << " to " << to;
            EXPECT_LE(carried.lines.size(), bars.size()) << "those cut off are left out";
            // And back: the words are as before.
            const TextLayer back = carried_words(carried, recipes[to], recipes[from], size, dpi);
            EXPECT_EQ(back.turned_degrees, 0);
        }
    }
}

TEST(CarriedWords, AreReadAgainOnlyIfTheirAreaChanged) {
    const Raster sheet = marked();
    const Recipe cropped{0, RectMm{14, 19, 100, 150}};
    const ReadAs sure = read_as({}, read_off(sheet, 95)), unsure = read_as({}, read_off(sheet, 70)),
                 part = read_as(cropped, read_off(develop(sheet, cropped), 95));
    EXPECT_TRUE(sure.surely);
    EXPECT_FALSE(unsure.surely);
    EXPECT_EQ(sure.words, 24);
    const auto stay = [](const ReadAs& read, const Recipe& now) { return words_stay(read, now, size, dpi); };
    Recipe turned, lighter, straighter, without_red;
    turned.turn_degrees = 90;
    lighter.adjust.brightness = 20;
    straighter.tilt_degrees = 0.3;
    without_red.adjust.drop_colour = PickedColour{200, 30, 30};
    without_red.adjust.drop_reach = 30;
    for (const Recipe& now : {turned, lighter, straighter, cropped}) EXPECT_TRUE(stay(sure, now));
    EXPECT_FALSE(stay(unsure, turned)) << "it may have lain the wrong way up";
    EXPECT_FALSE(stay(unsure, lighter)) << "it may be read better now";
    EXPECT_TRUE(stay(unsure, straighter));
    EXPECT_TRUE(stay(unsure, cropped));
    EXPECT_FALSE(stay(part, {})) << "more of the paper shows";
    EXPECT_FALSE(stay(sure, without_red)) << "words may have gone";
    Recipe flat;
    flat.flatten = Flatten{{{{5, 5}, {140, 8}, {142, 200}, {4, 205}}}, {140, 200}};
    EXPECT_FALSE(stay(sure, flat));
}

}
}
