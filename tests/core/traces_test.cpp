// What makes a side used: traces with crisp edges, in contrast to fibres, creases and print that shines through.
#include "core/seeing/show_through.h"
#include "core/seeing/soft_edges.h"
#include "core/seeing/traces.h"

#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

namespace yelvin {
namespace {

constexpr int fine = 3;
constexpr double dpi = 200, width_mm = 140, height_mm = 180, white = 246;

// A sheet that is drawn as levels darker than its paper, at three times the resolution of the scan.
class Drawn {
  public:
    Drawn& line(cv::Point2d from_mm, cv::Point2d to_mm, double stroke_mm, double levels) {
        cv::line(fine_, px(from_mm), px(to_mm), cv::Scalar(levels), cvRound(mm_to_px(stroke_mm, fine * dpi)),
                 cv::LINE_AA);
        return *this;
    }
    Drawn& words(const std::string& text, cv::Point2d at_mm, double levels, double size = 4.5,
                 double stroke_mm = 0.35) {
        cv::putText(fine_, text, px(at_mm), cv::FONT_HERSHEY_SIMPLEX, size, cv::Scalar(levels),
                    cvRound(mm_to_px(stroke_mm, fine * dpi)), cv::LINE_AA);
        return *this;
    }
    Drawn& page_of_print(double levels) {
        for (int line = 0; line < 14; ++line)
            words(line % 2 ? "The lock gate weeps at its heel post" : "ask for oakum and tar at the wharf",
                  {12.0 + line % 3, 20.0 + 9 * line}, levels);
        return *this;
    }
    // Blurs as a lens or paper does, and returns the levels of each pixel of the scan.
    cv::Mat taken(double blur_mm) const {
        cv::Mat blurred, out;
        cv::GaussianBlur(fine_, blurred, {0, 0}, mm_to_px(std::max(0.01, blur_mm), fine * dpi));
        cv::resize(blurred, out, {}, 1.0 / fine, 1.0 / fine, cv::INTER_AREA);
        return out;
    }

  private:
    cv::Mat fine_ =
        cv::Mat::zeros(cvRound(mm_to_px(height_mm, dpi)) * fine, cvRound(mm_to_px(width_mm, dpi)) * fine, CV_32F);
    static cv::Point px(cv::Point2d mm) {
        return {cvRound(mm_to_px(mm.x, fine * dpi)), cvRound(mm_to_px(mm.y, fine * dpi))};
    }
};

Marks scanned(const cv::Mat& levels, double grain, std::uint64_t seed = 1) {
    cv::Mat noise(levels.size(), CV_32F);
    cv::RNG(seed).fill(noise, cv::RNG::NORMAL, white, grain);
    cv::Mat page;
    cv::subtract(noise, levels, noise);
    noise.convertTo(page, CV_8U);
    return find_marks({page, dpi, Ink::Grey});
}

constexpr double lens_mm = 0.03;

// The blur of the edge and the width of a pixel (its variance is a twelfth of its square) add up.
TEST(SoftEdges, TheBlurIsFoundDespiteGrain) {
    for (const double blur : {0.05, 0.1, 0.25}) {
        Drawn drawn;
        for (int i = 0; i < 20; ++i) drawn.line({20, 10.0 + 8 * i}, {120, 12.0 + 8 * i}, 0.8, 60);
        const double expected = std::hypot(blur, px_to_mm(1, dpi) / std::sqrt(12.0));
        for (const double grain : {0.0, 2.0, 4.0}) {
            const Marks marks = scanned(drawn.taken(blur), grain);
            cv::Mat1b around;
            cv::dilate(marks.mask, around, cv::Mat::ones(9, 9, CV_8U));
            const EdgeEnergy energy = SoftEdges(marks.grey).energy(around, {0, 0});
            const double found = px_to_mm(SoftEdges::blur_of(energy, mm_to_px(0.8, dpi)), dpi);
            EXPECT_NEAR(found, expected, 0.22 * expected + 0.005) << "blur " << blur << " mm, grain " << grain;
        }
    }
}

TEST(Traces, PalePrintCountsAndShowThroughOfTheSameStrengthDoesNot) {
    const Drawn drawn = Drawn().page_of_print(30);
    for (const double grain : {1.0, 2.5, 4.0}) {
        EXPECT_GT(find_traces(scanned(drawn.taken(lens_mm), grain)).crisp, 100) << grain;
        const Traces through = find_traces(scanned(drawn.taken(0.22), grain));
        EXPECT_EQ(through.crisp, 0) << grain;
        EXPECT_EQ(through.ink_percent, 0) << grain;
        EXPECT_FALSE(through.in_doubt) << grain;
    }
}

TEST(Traces, AFibreIsNotWritingAndALoneDigitIs) {
    Drawn fibres;
    fibres.line({30, 30}, {31.5, 30.6}, 0.06, 150).line({80, 90}, {82, 92.5}, 0.06, 150);
    fibres.line({60, 140}, {64, 139}, 0.06, 150).line({64, 139}, {66, 140}, 0.06, 150);
    for (const double grain : {1.0, 4.0}) {
        EXPECT_EQ(find_traces(scanned(fibres.taken(lens_mm), grain)).crisp, 0) << grain;
        EXPECT_GT(find_traces(scanned(Drawn().line({70, 160}, {70, 162.4}, 0.3, 60).taken(lens_mm), grain)).crisp, 0);
    }
    // Letters in hairlines form a row.
    EXPECT_GT(find_traces(scanned(Drawn().words("illumine", {40, 60}, 110, 3, 0.12).taken(lens_mm), 2)).crisp, 2);
}

TEST(Traces, StraightLinesInAnyDirectionAreCreasesAndLettersAreNot) {
    for (int degrees = 5; degrees < 180; degrees += 35) {
        const double angle = degrees * CV_PI / 180;
        const cv::Point2d middle(70, 90), along = 55 * cv::Point2d(std::cos(angle), std::sin(angle)),
                                          across(along.y / 3, -along.x / 3);
        Drawn one, two;
        one.line(middle - along, middle + along, 0.3, 60);
        two.line(middle - along, middle + along, 0.3, 60).line(middle - across, middle + across, 0.3, 50);
        EXPECT_EQ(find_traces(scanned(one.taken(lens_mm), 2)).crisp, 0) << degrees;
        EXPECT_EQ(find_traces(scanned(two.taken(lens_mm), 2)).crisp, 0) << degrees << " and across";
    }
    const Drawn tick = Drawn().line({60, 60}, {63, 66}, 0.4, 60).line({63, 66}, {70, 54}, 0.4, 60);
    EXPECT_GT(find_traces(scanned(tick.taken(lens_mm), 2)).crisp, 0);
    Drawn initial; // its upright is longer than 8 mm
    initial.line({60, 60}, {60, 71}, 0.4, 60).line({60, 66}, {66, 60}, 0.4, 60).line({60, 66}, {67, 71}, 0.4, 60);
    EXPECT_GT(find_traces(scanned(initial.taken(lens_mm), 2)).crisp, 0);
}

// The other side of a sheet as its own camera sees it: shifted and turned a little, perhaps fed upside down.
cv::Mat as_seen_from_behind(const cv::Mat& levels, bool upside_down) {
    cv::Mat mirrored, out;
    cv::flip(levels, mirrored, upside_down ? 0 : 1);
    cv::Mat place = cv::getRotationMatrix2D(cv::Point2f(cv::Point(levels.size() / 2)), 0.25, 1);
    place.at<double>(0, 2) += mm_to_px(1.5, dpi);
    place.at<double>(1, 2) -= mm_to_px(2, dpi);
    cv::warpAffine(mirrored, out, place, mirrored.size());
    return out;
}

TEST(ShowThrough, ShowThroughIsIgnoredAndANoteAcrossItCounts) {
    const Drawn behind = Drawn().page_of_print(220);
    const cv::Mat through = 0.15 * behind.taken(0.08); // so crisp that no edge tells
    const cv::Mat note = Drawn().words("mind the sill", {50, 88.5}, 45, 4.5, 0.4).taken(lens_mm);
    for (const bool upside_down : {false, true}) {
        const Marks other = scanned(as_seen_from_behind(behind.taken(lens_mm), upside_down), 2, 2);
        const Marks bare = scanned(through, 2), noted = scanned(through + note, 2);
        const Traces alone = find_traces(bare);
        EXPECT_GT(alone.crisp, 0);
        EXPECT_TRUE(alone.in_doubt);
        const Traces explained = find_traces(bare, print_from_behind(bare, other));
        EXPECT_EQ(explained.crisp, 0) << "upside down " << upside_down;
        EXPECT_EQ(explained.ink_percent, 0);
        EXPECT_GT(find_traces(noted, print_from_behind(noted, other)).crisp, 2) << "upside down " << upside_down;
    }
}

TEST(ShowThrough, APrintedSideIsNotExplainedByAnother) {
    const Marks other = scanned(Drawn().page_of_print(220).taken(lens_mm), 2, 2);
    Drawn own; // pale print on the lines of the other side
    for (int line = 0; line < 14; ++line) own.words("Berths let by the week", {25, 20.0 + 9 * line}, 40);
    const Marks side = scanned(own.taken(lens_mm), 2);
    const Traces before = find_traces(side), after = find_traces(side, print_from_behind(side, other));
    EXPECT_GT(before.crisp, 100);
    EXPECT_GT(after.crisp, 0.95 * before.crisp);
    EXPECT_TRUE(print_from_behind(side, scanned(Drawn().taken(0), 2, 3)).empty()) << "nothing is printed behind";
}

// A page of black print is decided without its other side, and a picture with only soft edges is not blank.
TEST(Traces, BlackPrintAndPicturesAreNotDoubtful) {
    const Traces print = find_traces(scanned(Drawn().page_of_print(220).taken(lens_mm), 2));
    EXPECT_GT(print.crisp, 100);
    EXPECT_FALSE(print.in_doubt);
    Drawn picture;
    for (int i = 0; i < 8; ++i) picture.line({30.0 + 10 * i, 40}, {40.0 + 5 * i, 120}, 4.0, 40 + 15 * i);
    EXPECT_GT(find_traces(scanned(picture.taken(0.8), 2)).ink_percent, 1);
}

}
}
