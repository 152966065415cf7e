#include "core/raster/raster.h"

#include "core/raster/averaging.h"
#include "core/raster/paper.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

// ISO 216:2007, table 1 (A series) and 2 (B series), trimmed sizes in mm.
TEST(Paper, SizesAreThoseOfIso216) {
    const std::pair<const char*, SizeMm> table[] = {{"A3", {297, 420}}, {"A4", {210, 297}}, {"A5", {148, 210}},
                                                    {"A6", {105, 148}}, {"A7", {74, 105}},  {"B4", {250, 353}},
                                                    {"B5", {176, 250}}, {"B6", {125, 176}}};
    for (const auto& [name, size] : table) {
        const auto paper = find_paper(name);
        ASSERT_TRUE(paper) << name;
        EXPECT_EQ(paper->size, size) << name;
    }
    // Clause 4: the ratio of the sides is 1 to the square root of 2, up to rounding to whole millimetres.
    for (const char* name : {"A3", "A4", "A5", "A6"}) {
        const SizeMm size = find_paper(name)->size;
        EXPECT_NEAR(size.height / size.width, std::sqrt(2.0), 0.01) << name;
    }
}

// ANSI/ASME Y14.1: A is 8.5 x 11 in, B (Ledger) 11 x 17 in. Legal, 8.5 x 14 in, is common practice, no source.
TEST(Paper, NorthAmericanSizesAreWholeFractionsOfInches) {
    EXPECT_NEAR(find_paper("letter")->size.width, 8.5 * mm_per_inch, 1e-9);
    EXPECT_NEAR(find_paper("letter")->size.height, 11 * mm_per_inch, 1e-9);
    EXPECT_NEAR(find_paper("Ledger")->size.width, 11 * mm_per_inch, 1e-9);
    EXPECT_NEAR(find_paper("Ledger")->size.height, 17 * mm_per_inch, 1e-9);
    EXPECT_NEAR(find_paper("LEGAL")->size.height, 14 * mm_per_inch, 1e-9);
}

// ISO/IEC 7810:2019, ID-1: 85.60 x 53.98 mm.
TEST(Paper, ACardIsId1) { EXPECT_EQ(find_paper("card")->size, (SizeMm{85.6, 53.98})); }

TEST(Paper, IsRecognisedLyingEitherWayWithinTwoMillimetres) {
    EXPECT_EQ(nearest_paper({296, 211})->name, "A4");
    EXPECT_EQ(nearest_paper({215.5, 280})->name, "Letter");
    EXPECT_EQ(nearest_paper({86, 54.5})->name, "Card");
    EXPECT_FALSE(nearest_paper({213, 297})); // 3 mm too wide
    EXPECT_FALSE(find_paper("A44"));
}

TEST(Units, AnA4PageAt300DpiIs2480By3508Pixels) {
    EXPECT_EQ(scanned_px(210, 300), 2480);
    EXPECT_EQ(scanned_px(297, 300), 3508);
    EXPECT_EQ(scanned_px(210, 75), 620);
    EXPECT_DOUBLE_EQ(mm_to_pt(25.4), 72);
    EXPECT_DOUBLE_EQ(px_to_mm(mm_to_px(123.4, 217), 217), 123.4);
    EXPECT_EQ(scanned_px(0.001, 75), 1) << "never nothing";
}

// ITU-R BT.601-7, 2.5.1: E'Y = 0.299 E'R + 0.587 E'G + 0.114 E'B.
TEST(Luma, HasTheWeightsOfBt601) {
    const cv::Vec3b colours[] = {{0, 0, 255}, {0, 255, 0}, {255, 0, 0}, {255, 255, 255}, {30, 120, 200}};
    for (const cv::Vec3b& bgr : colours) {
        const Raster pixel{cv::Mat(1, 1, CV_8UC3, cv::Scalar(bgr[0], bgr[1], bgr[2])), 300, Ink::Colour};
        EXPECT_NEAR(grey_pixels(pixel).at<uchar>(0, 0), 0.299 * bgr[2] + 0.587 * bgr[1] + 0.114 * bgr[0], 0.51);
    }
}

TEST(Black, KeepsPrintAndAddsNoNoiseToAnEmptyPage) {
    cv::Mat page(400, 400, CV_8UC1, cv::Scalar(240));
    page(cv::Rect(50, 50, 60, 200)).setTo(40);
    const Raster black = with_ink({page, 300, Ink::Grey}, Ink::Black);
    EXPECT_EQ(black.ink, Ink::Black);
    EXPECT_EQ(cv::countNonZero(black.pixels == 0), 60 * 200);
    EXPECT_EQ(cv::countNonZero(black.pixels == 0) + cv::countNonZero(black.pixels == 255), 400 * 400);

    cv::Mat empty(400, 400, CV_8UC1), grain(400, 400, CV_8SC1);
    cv::RNG(3).fill(grain, cv::RNG::NORMAL, 0, 3);
    cv::add(cv::Mat(400, 400, CV_8UC1, cv::Scalar(238)), grain, empty, cv::noArray(), CV_8U);
    EXPECT_EQ(cv::countNonZero(with_ink({empty, 300, Ink::Grey}, Ink::Black).pixels == 0), 0);
}

TEST(Ink, IsOnlyEverReduced) {
    const Raster grey{noisy(30, 20, CV_8UC1, 1), 300, Ink::Grey};
    EXPECT_EQ(with_ink(grey, Ink::Colour).ink, Ink::Grey);
    EXPECT_EQ(with_ink(grey, Ink::Colour).pixels.data, grey.pixels.data) << "nothing is copied for nothing";
}

TEST(Resolution, IsReducedLikeAScannersAndNeverRaised) {
    const Raster page{noisy(2480, 3508, CV_8UC1, 2), 300, Ink::Grey};
    const Raster half = at_resolution(page, 150);
    EXPECT_EQ(half.width_px(), scanned_px(210, 150));
    EXPECT_EQ(half.height_px(), scanned_px(297, 150));
    EXPECT_EQ(at_resolution(page, 600).width_px(), 2480);
    EXPECT_NEAR(cv::mean(half.pixels)[0], cv::mean(page.pixels)[0], 0.2);
    const Raster black = at_resolution({page.pixels > 127, 300, Ink::Black}, 100);
    EXPECT_EQ(cv::countNonZero(black.pixels == 0) + cv::countNonZero(black.pixels == 255),
              black.width_px() * black.height_px());
}

// Compared with OpenCV's averaging, whose weights are the same; only the rounding of half levels differs.
TEST(Averaged, MatchesOpenCvsAreaInterpolation) {
    for (const int type : {CV_8UC1, CV_8UC3}) {
        const cv::Mat pixels = noisy(613, 777, type, 3);
        for (const double step : {1.0, 1.003, 1.25, 1.5, 2.0, 2.7, 3.0, 8.0, 23.6, 300.0}) {
            const cv::Size size(std::max(1, cvRound(pixels.cols / step)), std::max(1, cvRound(pixels.rows / step)));
            cv::Mat theirs, apart;
            cv::resize(pixels, theirs, size, 0, 0, cv::INTER_AREA);
            cv::absdiff(averaged(pixels, size), theirs, apart);
            double most = 0;
            cv::minMaxLoc(apart.reshape(1), nullptr, &most);
            EXPECT_LE(most, 1) << step;
            EXPECT_LT(cv::mean(apart.reshape(1))[0], 0.06) << step;
        }
    }
}

// The rest at the border is ignored: the areas there are smaller.
TEST(Averaged, AreasEndAtTheBorder) {
    const cv::Mat pixels = (cv::Mat_<uchar>(1, 5) << 10, 20, 30, 40, 50);
    const cv::Mat mean = averaged(pixels, {4, 1}, 1.5, 1);
    EXPECT_EQ(std::vector<uchar>(mean.begin<uchar>(), mean.end<uchar>()), (std::vector<uchar>{13, 27, 43, 50}));
    EXPECT_EQ(averaged(cv::Mat(900, 1, CV_8UC1, cv::Scalar(77)), {1, 1}, 1, 900).at<uchar>(0, 0), 77);
}

}
}
