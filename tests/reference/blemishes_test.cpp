// Faults of pages are found on pages with known faults, and not on clean pages.
#include "core/developing/develop.h"
#include "core/seeing/blemishes.h"
#include "core/seeing/notice.h"
#include "core/seeing/red_eyes.h"
#include "support/kinds.h"
#include "support/support.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <random>

namespace yelvin::test {
namespace {

TEST(Blemishes, AllBlemishesOfThePunchedMinutesAreFound) {
    const Raster page = scan("minutes-punched", 0, 200, Ink::Colour);
    const Notices notices = notice(page);
    const Blemishes& b = notices.blemishes;
    EXPECT_EQ(b.punch_holes, 2); // 6 mm wide, 80 mm apart, 12 mm from the edge: ISO 838 (values from memory)
    EXPECT_NEAR(b.shadow_mm[0], 9, 1.5);
    EXPECT_EQ(b.shadow_mm[1] + b.shadow_mm[2] + b.shadow_mm[3], 0);
    EXPECT_GT(b.show_through_percent, much_show_through_percent);
    EXPECT_NEAR(b.contrast_percent, 39, 5); // #979289 on #f4f1e8
    EXPECT_FALSE(notices.askew);
    for (const double tilt : {-0.5, 0.7}) { // shadow and holes lie crooked too
        const Notices tilted = notice(scan("minutes-punched", tilt, 200, Ink::Colour));
        EXPECT_EQ(tilted.blemishes.punch_holes, 2) << tilt;
        EXPECT_FALSE(tilted.askew) << tilt;
    }

    // Each correction removes its fault and keeps the print.
    Recipe recipe;
    recipe.adjust.punch_holes = recipe.adjust.edge_shadow = 1;
    recipe.adjust.paper_white = 60;
    const Notices after = notice(develop(page, recipe));
    EXPECT_EQ(after.blemishes.punch_holes, 0);
    EXPECT_EQ(after.blemishes.shadow_mm[0], 0);
    EXPECT_LT(after.blemishes.show_through_percent, 0.1);
    EXPECT_GT(after.letters, 0.9 * notices.letters);
    recipe = {};
    recipe.adjust.fading = 100;
    EXPECT_GT(notice(develop(page, recipe)).blemishes.contrast_percent, 60);
}

// A letter with a shadow or a printed bar along its left edge, both generated with varying depth, darkness, course and
// blur. The thresholds in measure.cpp were set by seeds 1 to 20.
enum class EdgeShape { Straight, Round, Steep };
Raster with_shadow(const Raster& page, std::mt19937& random) {
    const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
    const double depth = between(3, 14), darkest = between(0.35, 0.8), lean = between(-1, 1);
    const auto shape = static_cast<EdgeShape>(random() % 3);
    Raster out{page.pixels.clone(), page.dpi, page.ink};
    for (int y = 0; y < out.height_px(); ++y)
        for (int x = 0; x < mm_to_px(16, out.dpi); ++x) {
            const double t = px_to_mm(x, out.dpi) / (depth + lean * y / out.height_px());
            if (t >= 1) break;
            const double left = shape == EdgeShape::Straight ? 1 - t
                                : shape == EdgeShape::Round  ? (1 + std::cos(CV_PI * t)) / 2
                                                             : (1 - t) * (1 - t);
            cv::Vec3b& pixel = out.pixels.at<cv::Vec3b>(y, x);
            for (int c = 0; c < 3; ++c) pixel[c] = cv::saturate_cast<uchar>(pixel[c] * (1 - (1 - darkest) * left));
        }
    return out;
}
Raster with_bar(const Raster& page, std::mt19937& random) {
    const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
    const cv::Scalar colours[] = {{96, 45, 20},  {40, 40, 40},   {120, 120, 120},
                                  {50, 45, 180}, {170, 140, 60}, {60, 110, 40}};
    Raster out{page.pixels.clone(), page.dpi, page.ink};
    const int width = static_cast<int>(mm_to_px(between(2, 13), out.dpi));
    cv::rectangle(out.pixels, cv::Rect(0, 0, width, out.height_px()), colours[random() % 6], cv::FILLED);
    if (random() % 2 == 0)
        for (int y = 40; y < out.height_px(); y += 60)
            cv::putText(out.pixels, "RB", {3, y}, cv::FONT_HERSHEY_SIMPLEX, 0.8, cv::Scalar::all(250), 2, cv::LINE_AA);
    const double sigma = mm_to_px(between(0.05, 0.15), out.dpi);
    cv::Mat strip = out.pixels.colRange(0, width + 20);
    cv::GaussianBlur(strip, strip, {0, 0}, sigma);
    return out;
}

TEST(Blemishes, AShadowIsDistinguishedFromAPrintedBar) {
    const Raster letters[] = {scan("lease-1", 0.3, 150, Ink::Colour), scan("invoice", 0, 150, Ink::Colour)};
    int shadows = 0, bars = 0, count = 0;
    for (unsigned seed = 101; seed <= 120; ++seed) {
        std::mt19937 random(seed);
        for (int i = 0; i < 5; ++i, ++count) {
            const Raster& page = letters[random() % 2];
            shadows += !edge_shadows(with_shadow(page, random))[0].empty();
            bars += !edge_shadows(with_bar(page, random))[0].empty();
        }
    }
    EXPECT_GE(shadows, count * 97 / 100) << "shadows that are seen";
    EXPECT_EQ(bars, 0) << "bars that are taken for shadows";
}

TEST(Blemishes, CleanPagesHaveNone) {
    for (const char* paper : {"lease-1", "invoice", "towpath-form", "till-receipt"}) {
        const Blemishes b = notice(scan(paper, 0.6, 200, Ink::Colour)).blemishes;
        EXPECT_EQ(b.punch_holes, 0) << paper;
        EXPECT_EQ(b.show_through_percent, 0) << paper;
        EXPECT_EQ(*std::ranges::max_element(b.shadow_mm), 0) << paper;
        EXPECT_GT(b.contrast_percent, faint_contrast_percent) << paper;
        EXPECT_EQ(std::ranges::count(b.cut_off, true), 0) << paper;
        EXPECT_EQ(b.screen_lpi, 0) << paper;
    }
}

TEST(Blemishes, TextCutOffAtAnEdgeIsFoundOnThatSide) {
    // The text of the lease begins 20 mm from the edge; the scanned area cuts through it.
    const Raster left = scan("lease-1", 0, 200, Ink::Grey, {60, 0, 150, 297});
    const Raster right = scan("lease-1", 0, 200, Ink::Grey, {0, 0, 120, 297});
    EXPECT_EQ(notice(left).blemishes.cut_off, (std::array<bool, 4>{true, false, false, false}));
    EXPECT_EQ(notice(right).blemishes.cut_off, (std::array<bool, 4>{false, false, true, false}));
}

TEST(Blemishes, PrintedDotsAreMeasuredAndSmoothed) {
    const Raster card = scan("postcard", 0, 300, Ink::Colour, {35, 104, 140, 90});
    const double lpi = screen_of(card);
    EXPECT_NEAR(lpi, 85, 4); // as it is drawn
    Recipe recipe;
    recipe.adjust.screen_lpi = lpi;
    EXPECT_EQ(screen_of(develop(card, recipe)), 0);
    for (const char* picture : {"photo-top-lock", "photo-patient-heron", "photo-lock-keeper"})
        EXPECT_EQ(screen_of(scan(picture, 0, 300, Ink::Colour)), 0) << picture;
}

TEST(Blemishes, UnevenLightIsMeasuredAndCorrected) {
    Raster page = scan("invoice", 0, 150, Ink::Grey);
    for (int y = 0; y < page.height_px(); ++y) {
        uchar* row = page.pixels.ptr(y);
        for (int x = 0; x < page.width_px(); ++x)
            row[x] = cv::saturate_cast<uchar>(row[x] * (1 - 0.4 * x * y / page.width_px() / page.height_px()));
    }
    const double before = notice(page).blemishes.uneven_percent;
    EXPECT_GT(before, uneven_from_percent);
    Recipe recipe;
    recipe.adjust.even_light = 1;
    EXPECT_LT(notice(develop(page, recipe)).blemishes.uneven_percent, 4);
}

TEST(RedEyes, AreFoundOnThePortraitAndDarkened) {
    for (const double dpi : {150.0, 200.0, 300.0}) {
        const Raster portrait = scan("photo-lock-keeper", 3, dpi, Ink::Colour);
        const std::vector<Spot> eyes = find_red_eyes(portrait);
        ASSERT_EQ(eyes.size(), 2U) << dpi;
        for (const Spot& eye : eyes) EXPECT_NEAR(eye.radius_mm, 2, 0.5); // as it is drawn
        EXPECT_NEAR(std::hypot(eyes[0].x_mm - eyes[1].x_mm, eyes[0].y_mm - eyes[1].y_mm), 20, 0.5);
        Recipe recipe;
        recipe.adjust.red_eyes = 1;
        recipe.adjust.eyes = eyes;
        const Raster calm = develop(portrait, recipe);
        EXPECT_TRUE(find_red_eyes(calm).empty());
        cv::Mat changed;
        cv::absdiff(calm.pixels, portrait.pixels, changed);
        cv::cvtColor(changed, changed, cv::COLOR_BGR2GRAY);
        const double mm2 = cv::countNonZero(changed) * (mm_per_inch / dpi) * (mm_per_inch / dpi);
        EXPECT_LT(mm2, 2 * CV_PI * 2.6 * 2.6) << "nothing but the eyes";
    }
}

// Red things of every kind, pictures without any, and pages of every kind that an office receives.
TEST(RedEyes, AreFoundNowhereElse) {
    const TempFolder folder;
    int pictures = 0;
    for (const char* paper :
         {"photo-top-lock", "photo-patient-heron", "towpath-form", "postcard", "membership-card-front", "invoice"}) {
        EXPECT_TRUE(find_red_eyes(scan(paper, 0, 200, Ink::Colour)).empty()) << paper;
        ++pictures;
    }
    const std::vector<std::string> drawings{
        // a boat with two red fenders, berries, two lamps, buttons on skin-coloured cloth, a ladybird, apples
        "<rect width='90' height='60' fill='#8fb0cc'/><path d='M10 40 H80 L70 52 H20 Z' fill='#3b2f2a'/><circle "
        "cx='25' cy='44' r='3' fill='#c62222'/><circle cx='62' cy='44' r='3' fill='#c62222'/>",
        "<rect width='90' height='60' fill='#4c6b3c'/><circle cx='20' cy='20' r='2' fill='#d02020'/><circle cx='40' "
        "cy='24' r='2' fill='#d02020'/><circle cx='56' cy='40' r='2.2' fill='#d02020'/>",
        "<rect width='90' height='60' fill='#1a1c22'/><circle cx='30' cy='30' r='3' fill='#ff3020'/><circle cx='60' "
        "cy='30' r='3' fill='#ff3020'/>",
        "<rect width='90' height='60' fill='#cf9470'/><circle cx='30' cy='30' r='2.5' fill='#c02020'/><circle cx='60' "
        "cy='30' r='2.5' fill='#c02020'/>",
        "<rect width='90' height='60' fill='#6b8a4a'/><ellipse cx='45' cy='30' rx='14' ry='11' fill='#c42a1e'/><circle "
        "cx='40' cy='27' r='2' fill='#111'/><circle cx='51' cy='33' r='2' fill='#111'/>",
        "<rect width='90' height='60' fill='#d8c9a8'/><circle cx='28' cy='32' r='11' fill='#b8261c'/><circle cx='60' "
        "cy='33' r='12' fill='#c93a22'/>",
        "<rect width='90' height='60' fill='#f3efe6'/><rect x='10' y='10' width='70' height='8' "
        "fill='#c62222'/><circle cx='20' cy='40' r='5' fill='none' stroke='#c62222' stroke-width='1.5'/>",
        "<rect width='90' height='60' fill='#b97a50'/><rect x='5' y='20' width='80' height='20' "
        "fill='#8a2f22'/><circle cx='20' cy='50' r='2' fill='#e0d8c8'/>"};
    for (const std::string& drawing : drawings) {
        const auto file = folder / "picture.svg";
        write_file(file, "<svg xmlns='http://www.w3.org/2000/svg' width='90mm' height='60mm' viewBox='0 0 90 60'>" +
                             drawing + "</svg>");
        SimulatedScanner scanner(BenchSetup{.glass = {{file, 105, 148.5, 2}}});
        RasterSink sink;
        ASSERT_TRUE(scanner.scan({Source::Glass, a4_area, 200, Ink::Colour}, sink, {}));
        EXPECT_TRUE(find_red_eyes(sink.pages.front()).empty()) << drawing;
        ++pictures;
    }
    for (const KindOfPage& page : kinds_of_pages(folder.path())) {
        if (pictures % 4 != 0 && page.kind == PageKind::Text) continue; // not all of the pages of text
        EXPECT_TRUE(find_red_eyes(scan_page(page, 150)).empty()) << page.name;
        ++pictures;
    }
    EXPECT_GE(pictures, 20);
}

}
}
