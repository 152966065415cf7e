// The geometry of develop() compared with other programs on the same pages.
#include "core/developing/develop.h"
#include "core/raster/image_file.h"
#include "core/seeing/marks.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

double mean_difference(const cv::Mat& a, const cv::Mat& b, int rim) {
    const cv::Rect inner(rim, rim, a.cols - 2 * rim, a.rows - 2 * rim);
    return cv::norm(a(inner), b(inner), cv::NORM_L1) / static_cast<double>(inner.area());
}

// ImageMagick's distort rotates about the middle of the picture by the same angle, with its own cubic filter.
TEST(Straighten, TurnsLikeImageMagick) {
    const TempFolder folder;
    cv::Mat page(600, 800, CV_8UC1, cv::Scalar(245));
    for (int y = 60; y < 560; y += 50)
        cv::putText(page, "the lock was closed for frost", {60, y}, cv::FONT_HERSHEY_SIMPLEX, 1, cv::Scalar(30), 2,
                    cv::LINE_AA);
    const Raster raster{page, 100, Ink::Grey};
    write_file(folder / "page.png", *encode_png(raster));
    for (const double tilt : {-6.5, 1.25, 9.0}) {
        ASSERT_EQ(run({"convert", (folder / "page.png").string(), "-virtual-pixel", "white", "-filter", "Catrom",
                       "-distort", "SRT", std::to_string(-tilt), (folder / "turned.png").string()})
                      .status,
                  0);
        const auto theirs = read_page(folder / "turned.png");
        ASSERT_TRUE(theirs);
        const Raster ours = develop(raster, Recipe{.tilt_degrees = tilt});
        EXPECT_LT(mean_difference(ours.pixels, theirs->raster.pixels, 90), 3.0)
            << tilt << ": the filters differ a little";
        cv::Mat a, b;
        ours.pixels.convertTo(a, CV_32F);
        theirs->raster.pixels.convertTo(b, CV_32F);
        EXPECT_LT(cv::norm(cv::phaseCorrelate(a, b)), 0.05) << tilt << ": the same place to a twentieth of a pixel";
        const Raster wrong = develop(raster, Recipe{.tilt_degrees = -tilt});
        EXPECT_GT(mean_difference(wrong.pixels, theirs->raster.pixels, 90), 10) << "the check can fail";
    }
}

// A page that was scanned crooked and straightened equals the page scanned straight, apart from the sensor's grain.
TEST(Straighten, RestoresTheStraightPage) {
    const Raster straight = scan("lease-1", 0, 150, Ink::Grey, a4_area, ideal_sensor);
    const Raster crooked = scan("lease-1", 3, 150, Ink::Grey, a4_area, ideal_sensor);
    const Raster straightened = develop(crooked, Recipe{.tilt_degrees = 3});
    EXPECT_LT(mean_difference(straightened.pixels, straight.pixels, 120), 2.0);
    EXPECT_GT(mean_difference(crooked.pixels, straight.pixels, 120), 8.0);
}

TEST(Marks, FindLettersWithoutSpecksRulesAndTheLid) {
    cv::Mat page(1000, 800, CV_8UC1, cv::Scalar(240));
    for (int i = 0; i < 20; ++i)
        cv::putText(page, "a", {60 + 35 * i, 200}, cv::FONT_HERSHEY_SIMPLEX, 0.9, cv::Scalar(40), 2, cv::LINE_AA);
    cv::line(page, {50, 300}, {750, 300}, cv::Scalar(60), 2);                     // a rule
    page(cv::Rect(0, 0, 18, 1000)).setTo(200);                                    // the lid at the rim
    for (int i = 0; i < 50; ++i) page.at<uchar>(400 + i * 7, 100 + i * 11) = 120; // dust of one pixel
    const Marks marks = find_marks({page, 200, Ink::Grey});
    EXPECT_EQ(letters(marks).boxes.size(), 20U);
    EXPECT_NEAR(marks.paper, 240, 2);
    EXPECT_NEAR(marks.print, 40, 15);
    EXPECT_EQ(cv::countNonZero(marks.mask(cv::Rect(0, 0, 18, 1000))), 0) << "what runs into the rim is not on the page";
    EXPECT_EQ(cv::countNonZero(marks.mask(cv::Rect(90, 390, 700, 400))), 0) << "specks";
}

}
}
