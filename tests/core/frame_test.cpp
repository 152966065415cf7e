// Frames on the glass: the part of a picture that they are, the passes in which they are scanned, and what they snap
// to.
#include "core/developing/develop.h"
#include "core/seeing/frame.h"
#include "core/seeing/regions.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <random>

namespace yelvin::test {
namespace {

// A picture whose pixels are their coordinates: x in green, y in red.
Raster where_is_it(double dpi) {
    Raster raster{cv::Mat(scanned_px(120, dpi), scanned_px(100, dpi), CV_8UC3), dpi, Ink::Colour};
    for (int y = 0; y < raster.height_px(); ++y) {
        for (int x = 0; x < raster.width_px(); ++x)
            raster.pixels.at<cv::Vec3b>(y, x) = {0, cv::saturate_cast<uchar>(2.0 * px_to_mm(x, dpi)),
                                                 cv::saturate_cast<uchar>(2.0 * px_to_mm(y, dpi))};
    }
    return raster;
}

TEST(Frame, BecomesThePageUnderItForEveryQuarterTurn) {
    const Raster picture = where_is_it(200);
    for (const double angle : {0.0, 5.0, 44.0, 90.0, 120.0, -90.0, 180.0, -170.0}) {
        const Region at{50, 60, 30, 20, angle};
        const Raster page = develop(picture, frame_recipe(at, picture.size_mm()));
        EXPECT_NEAR(page.size_mm().width, 30, 0.2) << angle;
        EXPECT_NEAR(page.size_mm().height, 20, 0.2) << angle;
        // A point two millimetres inside a corner of the page is two millimetres inside the frame's corner.
        const Region inner{50, 60, 26, 16, angle};
        const auto truth = corners_of(inner);
        const double w = page.size_mm().width, h = page.size_mm().height;
        const cv::Point2d seen[] = {{2, 2}, {w - 2, 2}, {w - 2, h - 2}, {2, h - 2}};
        for (size_t i = 0; i < 4; ++i) {
            const auto pixel =
                page.pixels.at<cv::Vec3b>(cvRound(mm_to_px(seen[i].y, 200)), cvRound(mm_to_px(seen[i].x, 200)));
            EXPECT_NEAR(pixel[1] / 2.0, truth[i].x, 0.6) << "corner " << i << " turned " << angle;
            EXPECT_NEAR(pixel[2] / 2.0, truth[i].y, 0.6) << "corner " << i << " turned " << angle;
        }
    }
}

TEST(Frame, IsNeverEmptyAndUprightFramesStayOnTheGlass) {
    const SizeMm glass{216, 297};
    const Region far = kept_on({400, -30, 0, 500, 0}, glass);
    EXPECT_EQ(far.w_mm, least_frame_mm);
    EXPECT_EQ(far.h_mm, 297);
    EXPECT_NEAR(far.x_mm, 215, 1e-9);
    EXPECT_NEAR(far.y_mm, 148.5, 1e-9);
    const Region across = kept_on({10, 10, 100, 40, 90}, glass);
    EXPECT_NEAR(across.x_mm, 20, 1e-9) << "40 mm wide as it lies";
    EXPECT_NEAR(across.y_mm, 50, 1e-9);
    EXPECT_NEAR(turned_by({0, 0, 1, 1, 170}, 20).angle_degrees, -170, 1e-9);
}

// Each of three items overlaps the row of the next one, and the last does not overlap the first, so comparing two at a
// time leads in a circle. The order of the result must not depend on the order of the input.
TEST(Frame, ItemsAreOrderedInRows) {
    std::vector<Region> items;
    for (int i = 0; i < 24; ++i) // a staircase, each 12 mm lower and further left than the one before
        items.push_back({200.0 - 8 * i, 20.0 + 12 * i, 7, 30, 0});
    for (int i = 0; i < 12; ++i) items.push_back({5.0 + 16 * (i % 6), 400.0 + 3 * (i % 5) + 50 * (i / 6), 14, 30, 0});
    const std::vector<Region> order = in_rows(items);
    std::mt19937 random(5);
    for (int i = 0; i < 200; ++i) {
        std::ranges::shuffle(items, random);
        ASSERT_EQ(in_rows(items), order) << i;
    }
    EXPECT_EQ(order.front(), (Region{192, 32, 7, 30, 0})) << "the second stands in the first one's row, to its left";
    for (size_t i = order.size() - 6; i + 1 < order.size(); ++i) EXPECT_LT(order[i].x_mm, order[i + 1].x_mm);
}

// A scanner that is gone has a glass without a size, and frames that were drawn on it still exist.
TEST(GlassPasses, AGlassOfUnknownSizeGivesNoAreaOutsideIt) {
    const auto passes = quickest_passes({Frame::upright({10, 255, 60, 40})}, {0, 0}, 0.03, 1.5);
    ASSERT_EQ(passes.size(), 1U);
    EXPECT_EQ(passes[0].area, (RectMm{0, 0, 2, 2}));
    const Region kept = kept_on({40, 275, 60, 40, 0}, {0, 0});
    EXPECT_GE(kept.x_mm, 0);
    EXPECT_GE(kept.w_mm, 0);
}

TEST(GlassPasses, CombineNearFramesAndScanDistantOnesAlone) {
    const SizeMm glass{216, 297};
    const auto frame = [](double x, double y) { return Frame::upright({x, y, 60, 40}); };
    const double pace = 0.03, start = 1.5;
    const auto beside = quickest_passes({frame(10, 10), frame(120, 20)}, glass, pace, start);
    ASSERT_EQ(beside.size(), 1U);
    EXPECT_EQ(beside[0].area, (RectMm{10, 10, 170, 50}));
    // Scanning the 200 mm between them would take six seconds, and starting again one and a half.
    const auto apart = quickest_passes({frame(10, 255), frame(10, 5)}, glass, pace, start);
    ASSERT_EQ(apart.size(), 2U);
    EXPECT_EQ(apart[0].frames, std::vector<size_t>{1}) << "from the top of the glass, whatever their numbers";
    EXPECT_EQ(apart[0].area, (RectMm{10, 5, 60, 40})) << "nothing but the frame is scanned";
    EXPECT_LT(seconds_for(apart, pace, start), start + 290 * pace);
    const auto quick = quickest_passes({frame(10, 255), frame(10, 5)}, glass, 0.001, start);
    EXPECT_EQ(quick.size(), 1U) << "where the carriage is fast, one pass is faster";
    Frame found{{100, 100, 50, 50, 3}, true};
    const auto margin = quickest_passes({found}, glass, pace, start);
    const RectMm box = hull_of({found.at});
    EXPECT_NEAR(margin[0].area.x, box.x - 3, 1e-9) << "room to look for its edges in";
    EXPECT_NEAR(margin[0].area.height, box.height + 6, 1e-9);
}

TEST(Guides, AreTheGlassAndTheEdgesOfItems) {
    const Guides guides = guides_for({216, 297}, {Region{100, 100, 40, 20, 0}});
    EXPECT_EQ(snapped_to(0.9, guides.x_mm, 1.5), 0.0);
    EXPECT_EQ(snapped_to(79.2, guides.x_mm, 1.5), 80.0);
    EXPECT_EQ(snapped_to(111.1, guides.y_mm, 1.5), 110.0);
    EXPECT_FALSE(snapped_to(60, guides.x_mm, 1.5));
    EXPECT_FALSE(snapped_to(79.2, guides.x_mm, 0.5));
}

}
}
