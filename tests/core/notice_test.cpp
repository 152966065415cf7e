#include "core/page/notice.h"

#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

struct Expected {
    const char* paper;
    Ink least;
    PageKind kind;
};

// What each of the demo's papers needs, by what was drawn on it.
TEST(Notice, FindsTheLeastInkAndTheKindOfEveryPaper) {
    const Expected table[] = {
        {"lease-1", Ink::Black, PageKind::Text},        // black print only
        {"lease-2", Ink::Colour, PageKind::Text},       // two blue signatures
        {"log-sheet", Ink::Grey, PageKind::Text},       // a faint pencil note
        {"invoice", Ink::Grey, PageKind::Text},         // a shaded row
        {"towpath-form", Ink::Colour, PageKind::Mixed}, // tinted fields, a red stamp
        {"photo-top-lock", Ink::Colour, PageKind::Photo},
        {"photo-patient-heron", Ink::Colour, PageKind::Photo},
        {"membership-card-front", Ink::Colour, PageKind::Text},
    };
    for (const auto& [paper, least, kind] : table) {
        const Notices n = notice(scan(paper, 0.8, 300, Ink::Colour));
        EXPECT_EQ(n.ink.least, least) << paper << ": colour " << n.ink.colour_mm2 << " mm2, tones "
                                      << n.ink.tone_percent << " %, faint " << n.ink.faint_mm2 << " mm2";
        EXPECT_EQ(n.kind, kind) << paper << ": tones " << n.ink.tone_percent << " %, letters " << n.letters;
        EXPECT_FALSE(n.blank(0.15)) << paper;
    }
}

Raster paper(cv::Scalar bgr, double grain) {
    cv::Mat page(1170, 827, CV_8UC3, bgr), noise(page.size(), CV_16SC3), out;
    cv::RNG(9).fill(noise, cv::RNG::NORMAL, cv::Scalar::all(0), cv::Scalar::all(grain));
    cv::add(page, noise, out, cv::noArray(), CV_8UC3);
    return {out, 100, Ink::Colour};
}

TEST(Notice, YellowedPaperAndColourNoiseAreNoColour) {
    Raster old_page = paper({190, 222, 236}, 5);
    for (int y = 200; y < 900; y += 40)
        cv::putText(old_page.pixels, "the lock was closed for frost", {80, y}, cv::FONT_HERSHEY_SIMPLEX, 0.7,
                    {40, 45, 50}, 2, cv::LINE_AA);
    EXPECT_NE(notice(old_page).ink.least, Ink::Colour);
    Raster stamped = old_page;
    stamped.pixels = old_page.pixels.clone();
    cv::circle(stamped.pixels, {600, 800}, 22, {60, 40, 190}, 3, cv::LINE_AA); // a small red stamp, 11 mm across
    EXPECT_EQ(notice(stamped).ink.least, Ink::Colour);
}

TEST(Notice, BlankIsBlankAndAFaintNoteIsNot) {
    Raster empty = paper({238, 240, 240}, 3);
    EXPECT_TRUE(notice(empty).blank(0.15)) << notice(empty).ink_percent;
    EXPECT_LT(notice(empty).ink_percent, 0.02);
    // A crease and a smudge are not writing.
    cv::line(empty.pixels, {0, 500}, {826, 520}, {226, 228, 228}, 1, cv::LINE_AA);
    EXPECT_TRUE(notice(empty).blank(0.15)) << notice(empty).ink_percent;
    Raster pencil = paper({238, 240, 240}, 3);
    cv::putText(pencil.pixels, "ask Orla", {100, 1000}, cv::FONT_HERSHEY_SIMPLEX, 0.8, {188, 190, 190}, 2, cv::LINE_AA);
    EXPECT_FALSE(notice(pencil).blank(0.15)) << notice(pencil).ink_percent << " letters " << notice(pencil).letters;
    Raster number = paper({238, 240, 240}, 3);
    cv::putText(number.pixels, "17", {400, 1120}, cv::FONT_HERSHEY_SIMPLEX, 0.5, {40, 40, 40}, 1, cv::LINE_AA);
    EXPECT_FALSE(notice(number).blank(0.15)) << "a lone page number";
}

TEST(Notice, FindsSeparateItemsOnTheGlass) {
    BenchSetup setup;
    setup.glass = {{original("photo-top-lock"), 90, 70, 3}, {original("membership-card-front"), 70, 180, -8}};
    SimulatedScanner scanner(setup);
    RasterSink sink;
    ASSERT_TRUE(scanner.scan({Source::Glass, {}, 100, Ink::Colour}, sink, {}));
    const auto regions = find_regions(sink.pages.front());
    ASSERT_EQ(regions.size(), 2U);
    EXPECT_NEAR(regions[0].x_mm, 90, 1);
    EXPECT_NEAR(regions[0].y_mm, 70, 1);
    EXPECT_NEAR(regions[0].w_mm, 150, 1.5);
    EXPECT_NEAR(regions[0].h_mm, 102, 1.5);
    EXPECT_NEAR(regions[0].angle_degrees, 3, 0.4);
    EXPECT_NEAR(regions[1].w_mm, 85.6, 1.5);
    EXPECT_NEAR(regions[1].angle_degrees, -8, 0.6);
}

TEST(RecipeFrom, FollowsTheTicketAndNeverAltersMoreThanAsked) {
    Notices n;
    n.tilt_degrees = 2.5;
    n.turn_degrees = 180;
    n.ink.least = Ink::Black;
    const Raster colour{cv::Mat(10, 10, CV_8UC3), 300, Ink::Colour}, grey{cv::Mat(10, 10, CV_8UC1), 300, Ink::Grey};
    EXPECT_EQ(recipe_from(n, colour, {}), (Recipe{180, std::nullopt, 2.5, Ink::Grey}));
    EXPECT_EQ(recipe_from(n, grey, {}), (Recipe{180, std::nullopt, 2.5, std::nullopt}))
        << "grey does not become black unasked";
    EXPECT_EQ(recipe_from(n, colour, {false, false, Ink::Colour}), Recipe{});
    EXPECT_EQ(recipe_from(n, colour, {false, false, Ink::Black}).ink, Ink::Black);
    n.tilt_degrees = 0.06;
    EXPECT_EQ(recipe_from(n, grey, {}).tilt_degrees, 0) << "what cannot be seen is left alone";
    n.ink.least = Ink::Colour;
    EXPECT_FALSE(recipe_from(n, colour, {}).ink);
}

}
}
