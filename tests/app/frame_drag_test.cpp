// What dragging does to a frame, as geometry.
#include "app/glass/frame_drag.h"

#include <gtest/gtest.h>

namespace yelvin::test {
namespace {

using Part = Grip::Part;

const Snapping free_of_snaps{{}, {}, {216, 297}, 0};
constexpr double px = 0.7; // mm a pixel of the screen

Snapping snapping_to(std::vector<Region> found) {
    const SizeMm glass{216, 297};
    return {guides_for(glass, found), found, glass, 1.5};
}

TEST(FrameDrag, DistinguishesCornersEdgesInsideAndBarOfATurnedFrame) {
    for (const double angle : {0.0, 30.0, -75.0, 135.0}) {
        const Frame frame{{100, 150, 80, 50, angle}};
        const auto corners = corners_of(frame.at);
        const auto at = [&](cv::Point2d mm) { return grip_at({frame}, mm, px); };
        const int sides[][2] = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
        for (size_t i = 0; i < 4; ++i) {
            EXPECT_EQ(at(corners[i]).part, Part::Corner) << angle;
            EXPECT_EQ(at(corners[i]).side_x, sides[i][0]) << angle;
            EXPECT_EQ(at(corners[i]).side_y, sides[i][1]) << angle;
        }
        const Grip top = at((corners[0] + corners[1]) / 2), right = at((corners[1] + corners[2]) / 2);
        EXPECT_EQ(top.part, Part::Edge);
        EXPECT_EQ(top.side_y, -1);
        EXPECT_EQ(right.side_x, 1);
        EXPECT_EQ(at({100, 150}).part, Part::Inside);
        const auto bar = bar_of(frame.at, px);
        EXPECT_EQ(at((bar.first + bar.second) / 2).part, Part::Bar) << angle;
        const cv::Point2d up = (bar.first + bar.second) / 2 - cv::Point2d(100, 150);
        EXPECT_EQ(at(cv::Point2d(100, 150) - up).part, Part::None) << "below the lower edge there is no bar";
        EXPECT_EQ(at({100 + 90, 150 + 90}).frame, -1);
    }
    // The last frame is on top.
    EXPECT_EQ(grip_at({Frame{{100, 150, 80, 50, 0}}, Frame{{110, 150, 80, 50, 0}}}, {105, 150}, px).frame, 1);
}

TEST(FrameDrag, ResizingKeepsTheOppositeCornerAndNeverInverts) {
    for (const double angle : {0.0, 25.0, 90.0, -160.0}) {
        const Region start{100, 150, 60, 40, angle};
        const auto before = corners_of(start);
        const Grip grip{0, Part::Corner, 1, 1};
        const cv::Point2d inwards = before[0] - before[2];
        const auto small = dragged(start, grip, before[2], before[2] + inwards * 0.5, free_of_snaps).at;
        EXPECT_NEAR(small.w_mm, 30, 1e-6) << angle;
        EXPECT_NEAR(small.h_mm, 20, 1e-6) << angle;
        EXPECT_NEAR(cv::norm(corners_of(small)[0] - before[0]), 0, 1e-6) << angle;
        const auto past = dragged(start, grip, before[2], before[2] + inwards * 3, free_of_snaps).at;
        EXPECT_NEAR(past.w_mm, least_frame_mm, 1e-6) << angle;
        EXPECT_NEAR(past.h_mm, least_frame_mm, 1e-6) << angle;
        EXPECT_NEAR(cv::norm(corners_of(past)[0] - before[0]), 0, 1e-6) << angle;
    }
}

TEST(FrameDrag, SnapsToTheGlassToFoundItemsAndToTheirAngle) {
    const Snapping snapping = snapping_to({Region{60, 100, 50, 30, 0}});
    const Dragged moved = dragged({100, 200, 40, 40, 0}, {0, Part::Inside}, {0, 0}, {-79.2, -30}, snapping);
    EXPECT_NEAR(moved.at.x_mm - 20, 0, 1e-9) << "the left edge lies on the glass's";
    EXPECT_EQ(moved.guides_x, std::vector<double>{0});
    const Dragged edge = dragged({100, 100, 28, 40, 0}, {0, Part::Edge, -1, 0}, {86, 100}, {84.2, 100}, snapping);
    EXPECT_NEAR(edge.at.x_mm - edge.at.w_mm / 2, 85, 1e-9) << "on the right edge of what was found";
    EXPECT_NEAR(edge.at.x_mm + edge.at.w_mm / 2, 114, 1e-9);
    Snapping none = snapping;
    none.reach_mm = 0; // Alt
    EXPECT_NEAR(dragged({100, 100, 28, 40, 0}, {0, Part::Edge, -1, 0}, {86, 100}, {84.2, 100}, none).at.w_mm, 29.8,
                1e-9);

    // A side of a turned frame snaps to the side of an item that is turned by the same angle.
    const Snapping turned = snapping_to({Region{100, 150, 60, 40, 20}});
    const Region near{100, 150, 58.8, 40, 20};
    const auto right = (corners_of(near)[1] + corners_of(near)[2]) / 2;
    EXPECT_NEAR(dragged(near, {0, Part::Edge, 1, 0}, right, right, turned).at.w_mm, 59.4, 1e-6);
    // A frame that is turned by its bar snaps to the angle of the item, and to upright.
    const auto turned_to = [&](double degrees, const Snapping& how) {
        const double a = degrees * CV_PI / 180;
        return dragged({100, 150, 60, 40, 0}, {0, Part::Bar}, {100, 120},
                       {100 + 30 * std::sin(a), 150 - 30 * std::cos(a)}, how)
            .at.angle_degrees;
    };
    EXPECT_NEAR(turned_to(19.2, turned), 20, 1e-6);
    EXPECT_NEAR(turned_to(-0.8, turned), 0, 1e-6);
    EXPECT_NEAR(turned_to(-0.8, free_of_snaps), -0.8, 0.01);
    EXPECT_NEAR(turned_to(-150, free_of_snaps), -150, 0.01);
}

TEST(FrameDrag, FramesStayOnTheGlass) {
    const Region drawn_one = drawn({-20, 30}, {400, 10}, snapping_to({})).at;
    EXPECT_NEAR(drawn_one.w_mm, 216, 1e-9);
    EXPECT_NEAR(drawn_one.h_mm, 20, 1e-9);
    EXPECT_EQ(drawn({50, 50}, {50, 50}, free_of_snaps).at.w_mm, 0) << "a click draws nothing; nobody keeps it";
}

}
}
