#include "core/developing/develop.h"

#include "core/seeing/frame.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <random>

namespace yelvin::test {
namespace {

Raster page() { return {noisy(311, 203, CV_8UC3, 4), 100, Ink::Colour}; }

TEST(Develop, AnEmptyRecipeReturnsTheOriginalsPixels) {
    const Raster original = page();
    const Raster same = develop(original, {});
    EXPECT_EQ(cv::norm(same.pixels, original.pixels, cv::NORM_INF), 0);
    EXPECT_EQ(same.dpi, original.dpi);
    EXPECT_EQ(same.ink, original.ink);
}

TEST(Develop, QuarterTurnsAndCropsMovePixelsAndChangeNone) {
    const Raster original = page();
    const std::pair<int, int> turns[] = {
        {90, cv::ROTATE_90_CLOCKWISE}, {180, cv::ROTATE_180}, {270, cv::ROTATE_90_COUNTERCLOCKWISE}};
    for (const auto& [degrees, code] : turns) {
        cv::Mat expected;
        cv::rotate(original.pixels, expected, code);
        EXPECT_EQ(cv::norm(develop(original, Recipe{.turn_degrees = degrees}).pixels, expected, cv::NORM_INF), 0)
            << degrees;
        const RectMm crop{px_to_mm(20, 100), px_to_mm(31, 100), px_to_mm(111, 100), px_to_mm(90, 100)};
        EXPECT_EQ(cv::norm(develop(original, Recipe{.turn_degrees = degrees, .crop = crop}).pixels,
                           expected(cv::Rect(20, 31, 111, 90)), cv::NORM_INF),
                  0)
            << degrees;
    }
}

TEST(Develop, ACropIsKeptOnThePageAndNeverEmpty) {
    const Raster original = page();
    for (const RectMm& crop :
         {RectMm{-5, -5, 10, 10}, RectMm{1000, 1000, 10, 10}, RectMm{10, 10, 0, 0}, RectMm{0, 0, 9999, 9999}}) {
        const Raster out = develop(original, Recipe{.crop = crop});
        EXPECT_GE(out.width_px(), 1);
        EXPECT_GE(out.height_px(), 1);
        EXPECT_LE(out.width_px(), original.width_px());
        EXPECT_LE(out.height_px(), original.height_px());
    }
}

// For any recipe, a pixel of ink is on the developed page where the matrix says.
TEST(Develop, TheMatrixMapsEveryPixelToTheOriginal) {
    std::mt19937 random(6);
    std::uniform_real_distribution<double> tilt(-10, 10);
    for (int i = 0; i < 40; ++i) {
        cv::Mat blank(400, 300, CV_8UC1, cv::Scalar(255));
        const cv::Point at(120 + static_cast<int>(random() % 60), 160 + static_cast<int>(random() % 80));
        cv::circle(blank, at, 4, cv::Scalar(0), cv::FILLED, cv::LINE_AA);
        Recipe recipe{static_cast<int>(random() % 4) * 90, std::nullopt, i % 4 == 0 ? 0 : tilt(random), std::nullopt};
        if (i % 3 == 0) recipe.crop = RectMm{5, 6, 60, 60};
        const Raster developed = develop({blank, 100, Ink::Grey}, recipe);
        cv::Mat ink = 255 - developed.pixels;
        const cv::Moments m = cv::moments(ink);
        ASSERT_GT(m.m00, 1000) << i;
        const cv::Vec3d from = page_to_original(recipe, {300, 400}, 100) * cv::Vec3d(m.m10 / m.m00, m.m01 / m.m00, 1);
        EXPECT_NEAR(from[0], at.x, 0.05) << i;
        EXPECT_NEAR(from[1], at.y, 0.05) << i;
    }
}

TEST(Develop, IsTheSameEveryTime) {
    const Raster original = page();
    const Recipe recipe{90, RectMm{3, 4, 30, 40}, 1.7, Ink::Grey};
    EXPECT_EQ(cv::norm(develop(original, recipe).pixels, develop(original, recipe).pixels, cv::NORM_INF), 0);
}

TEST(Develop, StraightenedBlackAndWhitePagesStaySoAndCornersArePaper) {
    cv::Mat black(600, 400, CV_8UC1, cv::Scalar(255));
    black(cv::Rect(100, 100, 200, 30)).setTo(0);
    const Raster out = develop({black, 200, Ink::Black}, {0, std::nullopt, 4, std::nullopt});
    EXPECT_EQ(out.ink, Ink::Black);
    EXPECT_EQ(cv::countNonZero(out.pixels == 0) + cv::countNonZero(out.pixels == 255), 600 * 400);
    EXPECT_EQ(out.pixels.at<uchar>(0, 0), 255);
    const Raster tinted = develop({cv::Mat(600, 400, CV_8UC3, cv::Scalar(200, 230, 240)), 200, Ink::Colour},
                                  {0, std::nullopt, 4, std::nullopt});
    EXPECT_NEAR(tinted.pixels.at<cv::Vec3b>(0, 0)[0], 200, 3);
    EXPECT_NEAR(tinted.pixels.at<cv::Vec3b>(0, 0)[2], 240, 3);
}

// A slip of 230 x 40 mm that lies at 40 degrees across an A4 glass: its upright frame is wider than the glass. Each
// corner mark of the slip is at its place, and nothing is cut off.
TEST(Develop, ATiltedCropCanExtendBeyondThePicture) {
    constexpr double dpi = 100;
    const SizeMm slip{230, 40};
    for (const double tilt : {40.0, -40.0, 50.0}) {
        Raster original{cv::Mat(cvRound(mm_to_px(297, dpi)), cvRound(mm_to_px(210, dpi)), CV_8UC1, cv::Scalar(200)),
                        dpi, Ink::Grey};
        const double angle = tilt * CV_PI / 180, c = std::cos(angle), s = std::sin(angle);
        const auto on_glass = [&](double x, double y) { // of the slip, mm from its middle
            return cv::Point(cvRound(mm_to_px(105 + c * x - s * y, dpi)), cvRound(mm_to_px(148 + s * x + c * y, dpi)));
        };
        for (const double x : {-110.0, 0.0, 110.0})
            for (const double y : {-15.0, 15.0})
                cv::circle(original.pixels, on_glass(x, y), 6, cv::Scalar(0), cv::FILLED);
        Recipe recipe = frame_recipe({105, 148, slip.width, slip.height, tilt}, original.size_mm());
        const Raster out = develop(original, recipe);
        const bool across = out.height_px() > out.width_px(); // 50 degrees: nearer to lying on its side
        EXPECT_NEAR(out.size_mm().width, across ? slip.height : slip.width, 0.3) << tilt;
        EXPECT_NEAR(out.size_mm().height, across ? slip.width : slip.height, 0.3) << tilt;
        for (const double x : {-110.0, 0.0, 110.0})
            for (const double y : {-15.0, 15.0}) {
                const bool seen =
                    on_glass(x, y).inside(cv::Rect(10, 10, original.width_px() - 20, original.height_px() - 20));
                const double px = across ? out.size_mm().width / 2 + y : out.size_mm().width / 2 + x,
                             py = across ? out.size_mm().height / 2 - x : out.size_mm().height / 2 + y;
                const int pixel = out.pixels.at<uchar>(cvRound(mm_to_px(py, dpi)), cvRound(mm_to_px(px, dpi)));
                EXPECT_EQ(pixel < 60, seen) << tilt << " " << x << " " << y << " " << pixel;
            }
        EXPECT_EQ(out.pixels.at<uchar>(2, 2), 200) << "what lies outside is paper";
    }
}

TEST(Recipe, FourQuarterTurnsCancelAndTheCropStaysInPlace) {
    const SizeMm size{px_to_mm(311, 100), px_to_mm(203, 100)};
    const Recipe start{0, RectMm{px_to_mm(11, 100), px_to_mm(7, 100), px_to_mm(100, 100), px_to_mm(50, 100)}, 0,
                       std::nullopt};
    const Raster original = page();
    cv::Mat expected = develop(original, start).pixels;
    Recipe recipe = start;
    for (int i = 1; i <= 4; ++i) {
        recipe = turned(recipe, 1, size);
        cv::rotate(expected, expected, cv::ROTATE_90_CLOCKWISE);
        EXPECT_EQ(cv::norm(develop(original, recipe).pixels, expected, cv::NORM_INF), 0) << i;
    }
    EXPECT_EQ(recipe.turn_degrees, 0);
    EXPECT_NEAR(recipe.crop->x, start.crop->x, 1e-9);
    EXPECT_EQ(turned(start, -1, size).turn_degrees, 270);
    EXPECT_EQ(turned(start, 5, size).turn_degrees, 90);
}

}
}
