#include "core/developing/develop.h"
#include "core/developing/recipe_json.h"
#include "core/seeing/channels.h"
#include "core/seeing/notices_json.h"

#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <random>

namespace yelvin::test {
namespace {

struct Expected {
    const char* paper;
    Ink least;
    PageKind kind;
};

// What each of the demo's papers needs, known from its drawing.
TEST(Notice, FindsTheSmallestColourModeAndTheKindOfEveryPage) {
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

// A frame on a glass with one paper, with 2 mm of the lid around it.
Raster framed(const std::string& paper, double tilt) {
    const Raster glass = scan(paper, tilt, 150, Ink::Colour);
    const Region item = find_regions(glass).at(0);
    const auto px = [&](double mm) { return static_cast<int>(mm_to_px(mm, glass.dpi)); };
    const cv::Rect box(px(item.x_mm - item.w_mm / 2 - 2), px(item.y_mm - item.h_mm / 2 - 2), px(item.w_mm + 4),
                       px(item.h_mm + 4));
    return {glass.pixels(box).clone(), glass.dpi, glass.ink};
}

// A few marks in a row are no line of text if most marks of the picture are elsewhere.
TEST(Notice, AnEdgeInAPhotographIsNotALineOfText) {
    for (const double tilt : {-2.0, 0.0, 2.0}) {
        const Notices n = notice(framed("photo-patient-heron", tilt));
        EXPECT_EQ(n.kind, PageKind::Photo) << tilt << ": letters " << n.letters;
        EXPECT_FALSE(n.tilt_by_text) << tilt;
    }
    EXPECT_TRUE(notice(framed("postcard", 2)).tilt_by_text); // one line, which most of its letters are on
}

// Gravel, leaves, water, bricks: many marks of a letter's size, not in lines or not made of strokes. The thresholds of
// own_print.cpp were set on seeds 1 to 10.
TEST(Notice, TexturesAreNotLetters) {
    int photos = 0, count = 0;
    for (unsigned seed = 101; seed <= 112; ++seed) {
        std::mt19937 random(seed);
        const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
        cv::Mat texture(1170, 827, CV_8UC1);
        if (seed % 3 == 0) { // bricks
            texture.setTo(cv::Scalar(between(150, 190)));
            const int w = static_cast<int>(between(14, 40)), h = w / 2;
            for (int row = 0, y = 4; y + h < texture.rows; y += h + 4, ++row)
                for (int x = row % 2 ? -w / 2 : 0; x < texture.cols; x += w + 4)
                    cv::rectangle(texture, cv::Rect(x, y, w, h), cv::Scalar(between(60, 110)), cv::FILLED);
        } else {
            cv::randu(texture, 0, 256);
            cv::GaussianBlur(texture, texture, {0, 0}, between(1.2, 4), seed % 2 ? between(1.2, 4) : 0);
            cv::normalize(texture, texture, between(10, 60), between(170, 250), cv::NORM_MINMAX);
        }
        const Notices n = notice({texture, 100, Ink::Grey});
        photos += n.kind == PageKind::Photo;
        ++count;
        EXPECT_EQ(n.kind, PageKind::Photo) << seed << " letters " << n.letters;
    }
    EXPECT_EQ(photos, count);
}

// Light print on a dark page is text: it is read, and the page is straightened by it.
TEST(Notice, WhitePrintOnABlackPageIsText) {
    for (const char* name : {"lease-1", "minutes-punched", "invoice"}) {
        Raster page = scan(name, 1.5, 200, Ink::Grey, {10, 10, 190, 277});
        page.pixels = 255 - page.pixels;
        const Notices n = notice(page);
        EXPECT_NE(n.kind, PageKind::Photo) << name;
        EXPECT_TRUE(n.tilt_by_text) << name;
        EXPECT_NEAR(n.tilt_degrees.value_or(9), 1.5, 0.2) << name;
        EXPECT_GT(n.letters, 200) << name;
    }
}

// A poster that hangs at an angle in a photograph: the picture is straightened by its own edges or not at all.
TEST(Notice, APosterInAPhotographDoesNotTurnIt) {
    Raster poster = scan("lease-1", 0, 60, Ink::Colour);
    for (const char* photo : {"photo-top-lock", "photo-lock-keeper", "photo-patient-heron"}) {
        for (const double angle : {6.0, -4.0, 10.0}) {
            const Raster print = framed(photo, 0);
            Raster with{print.pixels.clone(), print.dpi, print.ink};
            const double by = 0.45 * with.height_px() / poster.height_px();
            cv::Mat turn = cv::getRotationMatrix2D(
                cv::Point2f(static_cast<float>(poster.width_px()) / 2, static_cast<float>(poster.height_px()) / 2),
                -angle, by);
            turn.at<double>(0, 2) += with.width_px() / 2.0 - poster.width_px() / 2.0;
            turn.at<double>(1, 2) += with.height_px() / 2.0 - poster.height_px() / 2.0;
            // Large print, as on posters: three lines.
            Raster large = poster;
            large.pixels = cv::Mat(poster.pixels.size(), CV_8UC3, cv::Scalar::all(238));
            for (int line = 0; line < 6; ++line)
                cv::putText(large.pixels, line % 2 ? "boats and barges" : "COBBLE REACH FAIR", {30, 100 + 90 * line},
                            cv::FONT_HERSHEY_SIMPLEX, 1.4, cv::Scalar::all(30), 3, cv::LINE_AA);
            cv::warpAffine(large.pixels, with.pixels, turn, with.pixels.size(), cv::INTER_AREA, cv::BORDER_TRANSPARENT);
            const Notices n = notice(with);
            EXPECT_EQ(n.kind, PageKind::Photo) << photo << angle << " letters " << n.letters;
            EXPECT_FALSE(n.tilt_by_text) << photo << angle;
            EXPECT_LT(std::abs(n.tilt_degrees.value_or(0)), 0.3) << photo << angle;
        }
    }
}

Raster paper(cv::Scalar bgr, double grain) {
    cv::Mat page(1170, 827, CV_8UC3, bgr), noise(page.size(), CV_16SC3), out;
    cv::RNG(9).fill(noise, cv::RNG::NORMAL, cv::Scalar::all(0), cv::Scalar::all(grain));
    cv::add(page, noise, out, cv::noArray(), CV_8UC3);
    return {out, 100, Ink::Colour};
}

TEST(Notice, YellowedPaperAndColourNoiseAreNotColour) {
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

// Sensors and lenses shift the colour channels by part of a pixel, so edges get coloured fringes that are not on the
// page. Tested on the demo's papers with known colour, each channel shifted differently.
Raster out_of_register(const Raster& page, cv::Point2d red, cv::Point2d blue) {
    std::vector<cv::Mat> planes;
    cv::split(page.pixels, planes);
    for (const auto& [channel, by] : {std::pair(2, red), std::pair(0, blue)}) {
        const cv::Matx23d map(1, 0, by.x, 0, 1, by.y);
        cv::warpAffine(planes[static_cast<size_t>(channel)], planes[static_cast<size_t>(channel)], map,
                       page.pixels.size(), cv::INTER_CUBIC, cv::BORDER_REPLICATE);
    }
    Raster out{{}, page.dpi, page.ink};
    cv::merge(planes, out.pixels);
    return out;
}

TEST(Notice, TheOffsetOfAColourChannelIsFoundWithinAPartOfAPixel) {
    const Raster page = scan("towpath-form", 0.4, 200, Ink::Colour); // with print in colours
    for (const cv::Point2d by : {cv::Point2d(0, 0), {0.37, -0.8}, {-1.3, 0.2}, {0.06, 0.11}}) {
        std::vector<cv::Mat> planes;
        cv::split(out_of_register(page, by, {}).pixels, planes);
        const cv::Point2d found = channel_shift(planes[1], planes[2]);
        EXPECT_LT(cv::norm(found - by), 0.08) << by << found;
    }
    cv::Mat bars(400, 400, CV_8UC1, cv::Scalar(230)), moved;
    for (int x = 20; x < 400; x += 40) bars(cv::Rect(x, 0, 15, 400)).setTo(30);
    cv::warpAffine(bars, moved, cv::Matx23d(1, 0, 0.5, 0, 1, 0), bars.size());
    const cv::Point2d across = channel_shift(bars, moved);
    EXPECT_NEAR(across.x, 0.5, 0.05);
    EXPECT_NEAR(across.y, 0, 0.05) << "along the bars nothing is known";
    EXPECT_EQ(channel_shift(cv::Mat(400, 400, CV_8UC1, cv::Scalar(230)), bars), cv::Point2d()) << "an empty page";
}

TEST(Notice, MisregisteredChannelsAreNotColour) {
    const std::pair<const char*, bool> papers[] = {{"lease-1", false},
                                                   {"minutes-punched", false},
                                                   {"invoice", false},
                                                   {"log-sheet", false},
                                                   {"lease-2", true},
                                                   {"towpath-form", true},
                                                   {"membership-card-front", true}};
    const std::pair<cv::Point2d, cv::Point2d> shifts[] = {
        {{1, 0}, {0, 0}}, {{0, 1}, {0, -1}}, {{0.7, 0.7}, {-0.4, 0.9}}, {{1.5, 0}, {-1.5, 0}}};
    for (const double dpi : {200.0, 300.0}) {
        for (const auto& [name, is_colour] : papers) {
            Raster page = scan(name, 0.4, dpi, Ink::Colour);
            if (!is_colour) // a bold heading: its sides lie too far apart to cancel out
                cv::putText(page.pixels, "COBBLE REACH", {static_cast<int>(dpi), static_cast<int>(dpi)},
                            cv::FONT_HERSHEY_SIMPLEX, dpi / 75, cv::Scalar::all(30), static_cast<int>(dpi / 16),
                            cv::LINE_AA);
            for (const auto& [red, blue] : shifts) {
                if (dpi < 300 && cv::norm(red) > 1) continue; // a quarter of a millimetre
                const InkNeed need = notice(out_of_register(page, red, blue)).ink;
                EXPECT_EQ(need.least == Ink::Colour, is_colour)
                    << name << " " << dpi << " " << red << blue << ": " << need.colour_mm2 << " mm2";
            }
        }
    }
}

// The paper has the tint of most of the page; black and white would lose the fields, which are white.
TEST(Notice, ATintedFormWithWhiteFieldsIsColour) {
    for (const cv::Scalar& tint : {cv::Scalar(250, 228, 205), cv::Scalar(215, 240, 220), cv::Scalar(225, 215, 250)}) {
        Raster form = paper(tint, 2);
        EXPECT_NE(notice(form).ink.least, Ink::Colour) << "tinted all over " << tint;
        for (int y = 200; y < 900; y += 70) {
            cv::rectangle(form.pixels, cv::Rect(120, y, 500, 34), cv::Scalar::all(250), cv::FILLED);
            cv::putText(form.pixels, "Boat", {30, y + 24}, cv::FONT_HERSHEY_SIMPLEX, 0.7, {40, 40, 40}, 2, cv::LINE_AA);
        }
        EXPECT_EQ(notice(form).ink.least, Ink::Colour) << tint << ": " << notice(form).ink.colour_mm2;
    }
}

TEST(Notice, AFaintNoteIsNotBlank) {
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

// A picture that the page fills shows no lid; a lid that is visible along one side only is a lid.
TEST(Notice, APageThatFillsThePictureHasNoItemsOnIt) {
    EXPECT_TRUE(find_regions(scan("lease-1", 0, 100, Ink::Colour, a4_area)).empty());
    EXPECT_TRUE(find_regions({cv::Mat(400, 300, CV_8UC3, cv::Scalar(240, 240, 240)), 100, Ink::Colour}).empty());
    EXPECT_TRUE(find_regions({cv::Mat(3, 2, CV_8UC1, cv::Scalar(0)), 100, Ink::Grey}).empty());
    EXPECT_TRUE(find_regions({noisy(800, 900, CV_8UC3, 4), 100, Ink::Colour}).empty()) << "nothing has edges in noise";

    cv::Mat glass(1169, 850, CV_8UC3, cv::Scalar(205, 205, 205)); // A4 in the corner of a glass 6 mm wider
    cv::rectangle(glass, cv::Rect(0, 0, 827, 1169), cv::Scalar(248, 248, 248), cv::FILLED);
    for (int y = 100; y < 1000; y += 40)
        cv::rectangle(glass, cv::Rect(90, y, 560, 9), cv::Scalar(40, 40, 40), cv::FILLED);
    const auto sheet = find_regions({glass, 100, Ink::Colour});
    ASSERT_EQ(sheet.size(), 1U);
    EXPECT_NEAR(sheet[0].w_mm, 210, 0.5);
    EXPECT_NEAR(sheet[0].h_mm, 297, 0.5);
}

TEST(Notice, AnItemIsFoundAgainAtAHigherResolutionDespiteAStrayEdge) {
    const Raster fine = scan("membership-card-front", 7, 300, Ink::Colour);
    const Region truth{105, 148.5, 85.6, 53.98, 7}; // ISO/IEC 7810 ID-1, where it was laid
    const Region rough{105.6, 148, 86.4, 54.6, 6.6};
    const Region found = refined_region(fine, rough);
    EXPECT_NEAR(found.x_mm, truth.x_mm, 0.2);
    EXPECT_NEAR(found.y_mm, truth.y_mm, 0.2);
    EXPECT_NEAR(found.w_mm, truth.w_mm, 0.35);
    EXPECT_NEAR(found.h_mm, truth.h_mm, 0.35);
    EXPECT_NEAR(found.angle_degrees, truth.angle_degrees, 0.05);
    const Region nowhere{40, 40, 50, 30, 0}; // bare lid
    EXPECT_EQ(refined_region(fine, nowhere), nowhere);
}

TEST(RecipeFrom, ASheetNearAStandardSizeIsCroppedToThatSize) {
    Notices notices;
    notices.sheet = Region{110, 150, 209.5, 296.6, 1.2};
    notices.tilt_degrees = 1.2;
    notices.paper = "A4"; // ISO 216: 210 x 297 mm
    Raster original{cv::Mat(scanned_px(300, 100), scanned_px(220, 100), CV_8UC1, cv::Scalar(20)), 100, Ink::Grey};
    const Recipe recipe = recipe_from(notices, original, {});
    ASSERT_TRUE(recipe.crop);
    EXPECT_NEAR(recipe.crop->width, 210, 1e-9);
    EXPECT_NEAR(recipe.crop->height, 297, 1e-9);
    EXPECT_GT(recipe.rim_mm, 0.25) << "the quarter millimetre that is not there, and a little more";
    EXPECT_LT(recipe.rim_mm, 1);
    EXPECT_EQ(recipe_from_json(to_json(recipe)), recipe);
    // What lies just inside becomes the edge, and nothing of the roller is left.
    cv::rectangle(original.pixels,
                  cv::Rect(cvRound(mm_to_px(5.3, 100)), cvRound(mm_to_px(1.8, 100)), cvRound(mm_to_px(209.5, 100)),
                           cvRound(mm_to_px(296.6, 100))),
                  cv::Scalar(250), cv::FILLED);
    Recipe upright = recipe;
    upright.tilt_degrees = 0;
    double darkest = 0;
    cv::minMaxLoc(develop(original, upright).pixels, &darkest);
    EXPECT_GT(darkest, 240);
    // Without straightening, a crooked sheet is shown completely.
    EXPECT_EQ(recipe_from(notices, original, {false, true, {}}).rim_mm, 0);
    EXPECT_GT(recipe_from(notices, original, {false, true, {}}).crop->width, 212);
    // A frame that the user drew is cut as drawn.
    notices.framed = true;
    notices.sheet = Region{100, 100, 60, 40, 90};
    const Recipe framed = recipe_from(notices, original, {});
    EXPECT_EQ(framed.turn_degrees, 270);
    EXPECT_EQ(framed.rim_mm, 0);
    EXPECT_EQ(notices_from_json(to_json(notices)).framed, true);
}

TEST(RecipeFrom, FollowsTheTicketAndChangesNothingElse) {
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
