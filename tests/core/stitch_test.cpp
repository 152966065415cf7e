// The parts of stitching, one by one, on pieces with exactly known truth.
#include "core/stitch/compose.h"
#include "core/stitch/match.h"
#include "core/stitch/pairs.h"
#include "core/stitch/search.h"

#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include <random>

namespace yelvin::test {
namespace {

constexpr double degree = CV_PI / 180;

// A sheet of blots and strokes in which no two places are alike; 100 dpi.
cv::Mat blots(cv::Size size, unsigned seed) {
    cv::Mat out(size, CV_8UC3, cv::Scalar(236, 240, 242));
    cv::RNG random(seed);
    for (int i = 0; i < size.area() / 2500; ++i) {
        const cv::Point at(random.uniform(0, size.width), random.uniform(0, size.height));
        const cv::Point to = at + cv::Point(random.uniform(-40, 40), random.uniform(-40, 40));
        const cv::Scalar colour(random.uniform(0, 160), random.uniform(0, 160), random.uniform(0, 160));
        if (i % 2 == 0)
            cv::line(out, at, to, colour, random.uniform(1, 4), cv::LINE_AA);
        else
            cv::circle(out, at, random.uniform(2, 9), colour, -1, cv::LINE_AA);
    }
    return out;
}

struct Cut {
    std::vector<Raster> rasters;
    std::vector<PieceLookPtr> looks;
    StitchSource source() const {
        return {[this](size_t i) -> Result<Raster> { return rasters[i]; }};
    }
};

// Upright parts of one picture, copied pixel by pixel.
Cut cut_from(const cv::Mat& picture, const std::vector<cv::Rect>& parts, Ink ink = Ink::Colour) {
    Cut out;
    for (const cv::Rect& part : parts) {
        out.rasters.push_back({picture(part).clone(), 100, ink});
        out.looks.push_back(look_at_piece("piece " + std::to_string(out.looks.size() + 1), out.rasters.back()));
    }
    return out;
}

TEST(Pose, ComposesInvertsAndRotatesAboutAPoint) {
    const Pose a{30 * degree, 12, -5, 1.1}, b{-70 * degree, 3, 8, 0.9};
    const cv::Point2d p(17, -4);
    EXPECT_LT(cv::norm((a * b)(p)-a(b(p))), 1e-12);
    EXPECT_LT(cv::norm(a.inverse()(a(p)) - p), 1e-12);
    const cv::Point2d centre(40, 50);
    EXPECT_LT(cv::norm(moved(Pose{}, 90 * degree, centre, {2, 3})(centre) - cv::Point2d(42, 53)), 1e-12);
    EXPECT_LT(cv::norm(moved(Pose{}, 90 * degree, centre, {0, 0})({41, 50}) - cv::Point2d(40, 51)), 1e-12)
        << "clockwise, y downwards";
    EXPECT_NEAR(corner_distance(Pose{}, Pose{0, 3, 4, 1}, {210, 297}), 5, 1e-12);
}

TEST(Pose, RigidFitIsExactAndHasNoScale) {
    const Pose truth{-123 * degree, 40, 7, 1};
    std::vector<cv::Point2d> from{{0, 0}, {100, 3}, {20, 80}, {55, 44}}, to;
    for (const auto& p : from) to.push_back(truth(p));
    EXPECT_LT(corner_distance(rigid_between(from, to), truth, {210, 297}), 1e-9);
    for (auto& p : to) p *= 1.01;
    EXPECT_EQ(rigid_between(from, to).scale, 1);
}

// A chain of three pieces, the outer two tied to the middle one only, and an edge that constrains one direction only.
TEST(SolvePoses, TiesConstrainAcrossEdgesAndNotAlongThem) {
    const std::vector<Pose> truth{{0, 0, 0, 1}, {2 * degree, 100, 5, 1}, {-91 * degree, 180, 60, 1}};
    std::mt19937 random(5);
    const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
    std::vector<TiedPair> pairs;
    for (const auto& [a, b] : {std::pair<size_t, size_t>{0, 1}, {1, 2}}) {
        TiedPair pair{a, b, {}};
        for (int i = 0; i < 40; ++i) {
            const cv::Point2d at(between(90, 190), between(0, 100));
            Tie tie{truth[a].inverse()(at), truth[b].inverse()(at), cv::Matx22d::eye() * 400};
            if (i % 2 == 0) { // an upright edge: along it the places may be anywhere
                tie.certainty = cv::Matx22d(400, 0, 0, 0);
                tie.at_b = truth[b].inverse()(truth[a](tie.at_a + cv::Point2d(0, between(-5, 5))));
            }
            pair.ties.push_back(tie);
        }
        pair.ties[1].at_b += cv::Point2d(3, -2); // one that is plainly wrong
        pairs.push_back(pair);
    }
    std::vector<Pose> poses{truth[0], {0, 96, 9, 1}, {-88 * degree, 176, 66, 1}};
    solve_poses(poses, pairs, Scale::Known);
    for (size_t i = 0; i < 3; ++i) EXPECT_LT(corner_distance(poses[i], truth[i], {100, 100}), 0.05) << i;
    EXPECT_EQ(poses[2].scale, 1);
}

TEST(SolvePoses, AScaleIsFoundIfItIsFree) {
    const Pose truth{4 * degree, 30, 2, 1.013};
    TiedPair pair{0, 1, {}};
    for (int i = 0; i < 30; ++i) {
        const cv::Point2d p(i * 17 % 100, i * 31 % 100);
        pair.ties.push_back({truth(p), p, cv::Matx22d::eye() * 100});
    }
    std::vector<Pose> poses(2);
    solve_poses(poses, {pair}, Scale::Free);
    EXPECT_NEAR(poses[1].scale, 1.013, 1e-6);
    EXPECT_NEAR(scale_between(pair), 1 / 1.013, 1e-6) << "b is the smaller one";
}

TEST(Fit, IsAccurateToAHundredthOfAPixelAndFindsContradictions) {
    const cv::Mat picture = blots({1100, 700}, 8);
    const Cut cut = cut_from(picture, {{0, 0, 620, 700}, {480, 0, 620, 700}});
    const double mm = mm_per_inch / 100;
    const Pose truth{0, 480 * mm, 0, 1};
    const Fit fit = fitted(*cut.looks[0], *cut.looks[1], moved(truth, 0.4 * degree, {120, 80}, {0.8, -0.6}));
    EXPECT_LT(corner_distance(fit.pose, truth, cut.looks[1]->size), 0.02);
    EXPECT_TRUE(fits(fit));
    EXPECT_EQ(fit.contradicting, 0);
    EXPECT_EQ(fit.agreeing, fit.details);
    EXPECT_NEAR(fit.area_mm2, 140 * 700 * mm * mm, 0.08 * fit.area_mm2);
    for (const Tie& tie : exact_ties(*cut.looks[0], *cut.looks[1], fit.pose))
        EXPECT_LT(cv::norm(truth(tie.at_b) - tie.at_a), 0.05 * mm);
    // The same place in another picture: nearly everything contradicts.
    const auto other = look_at_piece("other", {blots({620, 700}, 9), 100, Ink::Colour});
    const Fit wrong = fitted(*cut.looks[0], *other, truth);
    EXPECT_FALSE(may_fit(wrong));
    EXPECT_GT(wrong.contradicting, wrong.details / 2);
}

TEST(Fit, AnEdgeAloneDeterminesNoPlace) {
    cv::Mat picture(700, 1100, CV_8UC3, cv::Scalar::all(240));
    for (const int y : {200, 340, 420}) cv::line(picture, {0, y}, {1100, y}, cv::Scalar::all(40), 4);
    const Cut cut = cut_from(picture, {{0, 0, 620, 700}, {480, 0, 620, 700}});
    const Fit fit = fitted(*cut.looks[0], *cut.looks[1], {0, 480 * mm_per_inch / 100, 0, 1});
    EXPECT_GT(fit.agreement, 0.95);
    EXPECT_GT(fit.weakest_mm, 0.3) << "along the lines it could lie anywhere";
    EXPECT_FALSE(may_fit(fit));
}

TEST(Search, FindsAShiftWithFewFeatures) {
    const cv::Mat picture = blots({900, 1200}, 21);
    cv::Mat turned;
    cv::rotate(picture(cv::Rect(0, 440, 900, 640)), turned, cv::ROTATE_90_CLOCKWISE);
    const auto a = look_at_piece("a", {picture(cv::Rect(0, 0, 900, 640)).clone(), 100, Ink::Colour});
    auto b = std::make_shared<PieceLook>(*look_at_piece("b", {turned, 100, Ink::Colour}));
    b->features.resize(10); // as if there were hardly any
    const double mm = mm_per_inch / 100;
    // The upper left corner of b is the lower left corner of its part: (0, 1080) of the picture.
    const Pose truth{-90 * degree, 0, 1080 * mm, 1};
    bool found = false;
    for (const Guess& guess : searched(*a, *b)) {
        const Fit fit = fitted(*a, *b, guess.pose); // from where it was guessed it finds its place
        found = found || (fits(fit) && corner_distance(fit.pose, truth, b->size) < 0.1);
    }
    EXPECT_TRUE(found);
}

TEST(Outline, TheEdgeOfTheSheetIsFoundByTheEmptyAreaBeyondIt) {
    cv::Mat picture(900, 700, CV_8UC3, cv::Scalar::all(200));
    picture(cv::Rect(150, 120, 550, 780)).setTo(cv::Scalar::all(250)); // its upper left corner lies on the glass
    cv::circle(picture, {400, 500}, 40, cv::Scalar::all(20), 5);
    const auto look = look_at_piece("corner", {picture, 100, Ink::Colour});
    const double mm = mm_per_inch / 100;
    EXPECT_TRUE(outline_at(*look, {150 * mm, 600 * mm}) & LeftSide);
    EXPECT_FALSE(outline_at(*look, {150 * mm, 600 * mm}) & (UpperSide | LowerSide));
    EXPECT_TRUE(outline_at(*look, {450 * mm, 120 * mm}) & UpperSide);
    EXPECT_EQ(outline_at(*look, {80 * mm, 300 * mm}), 0U) << "nothing at all is no edge";
    EXPECT_EQ(outline_at(*look, {400 * mm, 460 * mm}), 0U) << "what is drawn on it is not its edge";
    EXPECT_EQ(turned_sides(LeftSide, 90 * degree), UpperSide);
    EXPECT_EQ(turned_sides(LeftSide, -91 * degree), LowerSide);
    EXPECT_EQ(turned_sides(UpperSide | RightSide, 180 * degree), LowerSide | LeftSide);
}

// Threads find pairs in any order; growing accepts ties in that order, which must not matter.
TEST(PairsFound, AreInTheSameOrderForAnyThreadTiming) {
    const cv::Mat sheet = blots({900, 700}, 11);
    std::vector<cv::Rect> parts;
    for (const int y : {0, 200, 400})
        for (const int x : {0, 280, 560}) parts.emplace_back(x, y, 330, 290);
    const Cut cut = cut_from(sheet, parts);
    Pairs pairs(cut.looks, nullptr, {});
    pairs.match_all([](double) {});
    const auto pieces = [](const Candidate& each) { return std::pair(each.a, each.b); };
    EXPECT_GE(pairs.candidates().size(), 12U) << "each with its neighbours";
    EXPECT_TRUE(std::ranges::is_sorted(pairs.candidates(), {}, pieces));
}

TEST(Seams, RunThroughAreasWithoutDetailAndAssignEveryPixel) {
    // The overlap of two pieces has a white gutter in its middle and print on both sides of it.
    cv::Mat picture(800, 1200, CV_8UC3, cv::Scalar::all(245));
    for (int y = 20; y < 800; y += 24)
        for (const int x : {470, 620})
            cv::putText(picture, "locks", {x, y}, cv::FONT_HERSHEY_SIMPLEX, 0.5, {20, 20, 20}, 1);
    for (int i = 0; i < 60; ++i) cv::circle(picture, {i * 97 % 1200, i * 53 % 800}, 4, cv::Scalar(90, 30, 30), -1);
    picture(cv::Rect(545, 0, 60, 800)).setTo(cv::Scalar::all(245));
    const Cut cut = cut_from(picture, {{0, 0, 720, 800}, {440, 0, 760, 800}});
    const auto layout = find_layout(cut.looks);
    ASSERT_TRUE(layout);
    ASSERT_EQ(layout->placed(), 2U);
    const auto tones = even_tones(cut.looks, *layout);
    const SeamMap map = choose_seams(cut.looks, *layout, tones);
    const cv::Rect inner(1, 1, map.owner.cols - 2, map.owner.rows - 2);
    EXPECT_EQ(cv::countNonZero(map.owner(inner) == SeamMap::nobody), 0);
    const auto along = along_seam(map, 0, 1, 4);
    ASSERT_GT(along.size(), 30U);
    for (size_t i = 1; i < along.size(); ++i) EXPECT_LT(cv::norm(along[i] - along[i - 1]), 12) << "in order";
    // In the coordinates of the picture.
    const cv::Matx33d to = to_picture(*layout, cut.looks, 0).inv();
    int quiet = 0;
    for (const cv::Point2d& at : along) {
        const double x =
            to(0, 0) * at.x * layout->dpi / mm_per_inch + to(0, 1) * at.y * layout->dpi / mm_per_inch + to(0, 2);
        quiet += x > 540 && x < 610 ? 1 : 0;
    }
    EXPECT_GT(quiet, 0.85 * static_cast<double>(along.size()));
    // Pieces that were cut from one picture give that picture again.
    const auto picture_again = composed(cut.looks, *layout, cut.source());
    ASSERT_TRUE(picture_again);
    EXPECT_NEAR(picture_again->width_px(), 1200, 12);
    const cv::Rect part(200, 100, 800, 600);
    const cv::Matx33d shift = to_picture(*layout, cut.looks, 0);
    const cv::Point by(cvRound(shift(0, 2)), cvRound(shift(1, 2)));
    EXPECT_LT(cv::norm(picture_again->pixels(part + by), picture(part), cv::NORM_L1) / part.area() / 3, 2.0);
}

TEST(Compose, BlackStaysBlackAndAMixUsesTheRicherColourMode) {
    cv::Mat grey;
    cv::cvtColor(blots({900, 600}, 12), grey, cv::COLOR_BGR2GRAY);
    cv::Mat black;
    cv::threshold(grey, black, 150, 255, cv::THRESH_BINARY);
    const Cut bilevel = cut_from(black, {{0, 0, 520, 600}, {380, 0, 520, 600}}, Ink::Black);
    const auto layout = find_layout(bilevel.looks);
    ASSERT_TRUE(layout);
    ASSERT_EQ(layout->placed(), 2U);
    const auto picture = composed(bilevel.looks, *layout, bilevel.source());
    ASSERT_TRUE(picture);
    EXPECT_EQ(picture->ink, Ink::Black);
    EXPECT_EQ(cv::countNonZero((picture->pixels != 0) & (picture->pixels != 255)), 0);
    Cut mixed = cut_from(grey, {{0, 0, 520, 600}, {380, 0, 520, 600}}, Ink::Grey);
    cv::Mat colour;
    cv::cvtColor(mixed.rasters[1].pixels, colour, cv::COLOR_GRAY2BGR);
    mixed.rasters[1] = {colour, 100, Ink::Colour};
    mixed.looks[1] = look_at_piece("piece 2", mixed.rasters[1]);
    const auto both = find_layout(mixed.looks);
    ASSERT_TRUE(both);
    EXPECT_EQ(composed(mixed.looks, *both, mixed.source())->ink, Ink::Colour);
}

// If two pieces show different things, their mean would be a ghost image that neither shows.
TEST(Compose, WherePiecesDisagreeEachPixelComesFromOneOfThem) {
    Cut cut = cut_from(blots({900, 600}, 15), {{0, 0, 520, 600}, {380, 0, 520, 600}});
    const auto layout = find_layout(cut.looks);
    ASSERT_TRUE(layout);
    ASSERT_EQ(layout->placed(), 2U);
    // Puts different words all over the overlap.
    for (int y = 0; y < 600; y += 20) {
        cv::rectangle(cut.rasters[0].pixels, {380, y, 140, 12}, cv::Scalar::all(30), cv::FILLED);
        cv::rectangle(cut.rasters[1].pixels, {0, y + 6, 140, 12}, cv::Scalar::all(235), cv::FILLED);
    }
    const auto picture = composed(cut.looks, *layout, cut.source());
    ASSERT_TRUE(picture);
    int between = 0, seen = 0;
    const cv::Matx33d first = to_picture(*layout, cut.looks, 0);
    const cv::Point by(cvRound(first(0, 2)), cvRound(first(1, 2)));
    for (int y = 10; y < 590; ++y) {
        for (int x = 390; x < 510; ++x) {
            const cv::Point at = cv::Point(x, y) + by;
            if (!cv::Rect(0, 0, picture->width_px(), picture->height_px()).contains(at)) continue;
            const auto& got = picture->pixels.at<cv::Vec3b>(at);
            const auto &one = cut.rasters[0].pixels.at<cv::Vec3b>(y, x),
                       &other = cut.rasters[1].pixels.at<cv::Vec3b>(y, x - 380);
            if (cv::norm(one, other, cv::NORM_INF) < 120) continue;
            ++seen;
            constexpr double near = 40; // levels
            between += cv::norm(got, one, cv::NORM_INF) > near && cv::norm(got, other, cv::NORM_INF) > near;
        }
    }
    ASSERT_GT(seen, 10'000);
    EXPECT_LT(between, seen / 100);
}

TEST(Compose, APieceThatCannotBeReadStopsWithItsError) {
    const Cut cut = cut_from(blots({900, 600}, 14), {{0, 0, 520, 600}, {380, 0, 520, 600}});
    const auto layout = find_layout(cut.looks);
    ASSERT_TRUE(layout);
    const StitchSource broken{[](size_t) -> Result<Raster> { return fail(ErrorKind::Missing, "The page is gone."); }};
    const auto picture = composed(cut.looks, *layout, broken);
    ASSERT_FALSE(picture);
    EXPECT_EQ(picture.error().sentence, "The page is gone.");
}

}
}
