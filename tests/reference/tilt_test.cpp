// The tilt compared with known angles of the simulated scanner, and with Leptonica's skew finder on the same pages.
#include "core/developing/develop.h"
#include "core/raster/pix.h"
#include "core/seeing/notice.h"
#include "core/seeing/tilt.h"
#include "support/support.h"

#include <algorithm>
#include <cmath>
#include <iostream>

namespace yelvin::test {
namespace {

TEST(Tilt, IsFoundForTwentyKnownAngles) {
    const char* papers[] = {"lease-1", "log-sheet", "invoice", "lease-2"};
    std::vector<double> errors, leptonica_errors;
    for (int i = 0; i < 24; ++i) {
        const double truth = -10 + 20.0 * i / 23; // -10 to 10, zero not among them
        const Raster page = scan(papers[i % 4], truth, 200, i % 3 ? Ink::Grey : Ink::Colour);
        const auto tilt = notice(page).tilt_degrees;
        ASSERT_TRUE(tilt) << papers[i % 4] << " at " << truth;
        errors.push_back(std::abs(*tilt - truth));
        EXPECT_LT(errors.back(), 0.3) << papers[i % 4] << " at " << truth;

        const PixPtr pix = to_pix(with_ink(page, Ink::Black));
        l_float32 angle = 0, confidence = 0;
        // Leptonica returns the angle that straightens, clockwise positive: the tilt with the opposite sign.
        pixFindSkewSweepAndSearch(pix.get(), &angle, &confidence, 4, 2, 11, 1, 0.01F);
        leptonica_errors.push_back(std::abs(-static_cast<double>(angle) - truth));
    }
    std::ranges::sort(errors);
    std::ranges::sort(leptonica_errors);
    std::cout << "median " << errors[12] << ", worst " << errors.back() << " degrees; Leptonica: median "
              << leptonica_errors[12] << ", worst " << leptonica_errors.back() << "\n";
    EXPECT_LE(errors[12], 0.1);
    EXPECT_LE(errors[12], leptonica_errors[12] + 0.01) << "no worse than the reference";
}

TEST(Tilt, IsFoundOnPhotographsByTheirEdge) {
    for (const double truth : {-7.3, -1.2, 2.6, 8.9}) {
        const auto notices = notice(scan("photo-top-lock", truth, 150, Ink::Colour));
        ASSERT_TRUE(notices.tilt_degrees) << truth;
        EXPECT_FALSE(notices.tilt_by_text);
        EXPECT_NEAR(*notices.tilt_degrees, truth, 0.3);
    }
}

TEST(Tilt, OfASidewaysPageIsTheSame) {
    for (const double truth : {-4.0, 1.5}) {
        for (const double turn : {90.0, 180.0, 270.0}) {
            const auto tilt = text_tilt(scan("lease-1", truth + turn, 200, Ink::Grey));
            ASSERT_TRUE(tilt);
            EXPECT_NEAR(tilt->degrees, truth, 0.1) << "turned by " << turn;
            EXPECT_EQ(tilt->across, turn != 180) << "turned by " << turn;
        }
    }
}

TEST(Tilt, LeavesAStraightPageUnchangedBitForBit) {
    for (const char* paper : {"lease-1", "lease-2", "invoice", "log-sheet", "towpath-form"}) {
        const Raster page = scan(paper, 0, 300, Ink::Grey);
        const Notices notices = notice(page);
        const Recipe recipe = recipe_from(notices, page, {});
        EXPECT_EQ(recipe.tilt_degrees, 0) << paper << " found at " << notices.tilt_degrees.value_or(0);
        const Raster developed = develop(page, recipe);
        EXPECT_EQ(cv::norm(developed.pixels, page.pixels, cv::NORM_INF), 0) << paper;
    }
}

TEST(Tilt, IsNotReportedWithoutEvidence) {
    const Raster empty{cv::Mat(2000, 1400, CV_8UC1, cv::Scalar(240)), 200, Ink::Grey};
    EXPECT_FALSE(notice(empty).tilt_degrees);
    const Raster noise{noisy(900, 900, CV_8UC1, 5), 150, Ink::Grey};
    const auto tilt = text_tilt(noise);
    EXPECT_TRUE(!tilt || std::abs(tilt->degrees) < 15.01);
}

}
}
