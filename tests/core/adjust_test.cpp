// The corrections: they change nothing when off, give the same result every time and in every order, and agree with
// published values and reference libraries.
#include "core/developing/develop.h"
#include "core/developing/flatten.h"
#include "core/developing/recipe_json.h"
#include "core/developing/retouch.h"
#include "core/developing/tone.h"
#include "core/raster/pix.h"
#include "core/raster/srgb.h"
#include "core/seeing/corners.h"
#include "core/seeing/notices_json.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <functional>
#include <numbers>
#include <random>

namespace yelvin::test {
namespace {

Raster letter(Ink ink = Ink::Colour) { return scan("invoice", 0.8, 150, ink, {0, 0, 120, 90}); }
bool same(const Raster& a, const Raster& b) {
    return a.pixels.size() == b.pixels.size() && a.pixels.type() == b.pixels.type() &&
           cv::norm(a.pixels, b.pixels, cv::NORM_INF) == 0;
}

class Dice {
  public:
    explicit Dice(unsigned seed) : random_(seed) {}
    double between(double least, double most) { return std::uniform_real_distribution(least, most)(random_); }
    bool heads() { return random_() % 2 == 0; }
    template <class Things>
    void shuffle(Things& things) {
        std::ranges::shuffle(things, random_);
    }
    Adjust adjust(double share) {
        Adjust adjust;
        for (const AdjustField& field : adjust_fields()) {
            if (between(0, 1) < share) adjust.*field.value = between(field.least, field.most);
        }
        if (heads()) adjust.drop_colour = PickedColour{200, 40, 30};
        if (heads()) adjust.eyes = {{50, 40, 2}, {30, 40, 2}};
        return kept_in_range(adjust);
    }
    Recipe geometry(SizeMm size) {
        Recipe recipe;
        recipe.turn_degrees = static_cast<int>(between(0, 4)) * 90;
        if (recipe.turn_degrees % 180 != 0) std::swap(size.width, size.height);
        if (heads()) recipe.tilt_degrees = between(-12, 12);
        if (heads()) {
            recipe.crop = RectMm{between(0, 20), between(0, 20), between(40, 60), between(40, 60)};
        } else if (heads()) {
            recipe.flatten = Flatten{{PointMm{between(2, 9), between(2, 9)},
                                      {size.width - between(2, 9), between(2, 9)},
                                      {size.width - between(2, 9), size.height - between(2, 9)},
                                      {between(2, 9), size.height - between(2, 9)}},
                                     {70, 60}};
        }
        return recipe;
    }

  private:
    std::mt19937 random_;
};

TEST(Adjust, EveryCorrectionChangesPixelsAndResettingRestoresThem) {
    // A form with many faults: a tint, a shadow along an edge, specks.
    Raster original = scan("towpath-form", 0, 200, Ink::Colour);
    for (int y = 0; y < original.height_px(); ++y) {
        for (int x = 0; x < original.width_px(); ++x) {
            auto& pixel = original.pixels.at<cv::Vec3b>(y, x);
            const double lit = x < 40 ? 0.5 + 0.5 * x / 40 : 1;
            pixel = {cv::saturate_cast<uchar>(pixel[0] * 0.85 * lit), cv::saturate_cast<uchar>(pixel[1] * lit),
                     cv::saturate_cast<uchar>(pixel[2] * lit)};
        }
    }
    for (int i = 0; i < 60; ++i)
        cv::circle(original.pixels, {100 + 23 * i, 2200 + (i * 37) % 90}, 2, cv::Scalar(60, 60, 60), cv::FILLED);
    for (const AdjustField& field : adjust_fields()) {
        Recipe recipe;
        recipe.adjust.*field.value = field.rest == field.most ? 180 : field.most * 0.6;
        if (field.is_switch()) recipe.adjust.*field.value = 1;
        if (field.value == &Adjust::drop_reach) recipe.adjust.drop_colour = PickedColour{40, 90, 150};
        if (field.value == &Adjust::threshold || field.value == &Adjust::local_threshold) recipe.ink = Ink::Black;
        recipe.adjust = kept_in_range(recipe.adjust);
        EXPECT_NE(recipe.adjust.*field.value, field.rest) << field.key;
        // There are no red eyes, punch holes or shadows on this page; the other corrections change it.
        const bool needs_a_find = field.value == &Adjust::red_eyes || field.value == &Adjust::punch_holes;
        const Raster changed = develop(original, recipe);
        EXPECT_EQ(same(changed, original), needs_a_find) << field.key;
        recipe.adjust.*field.value = field.rest;
        recipe.adjust.drop_colour.reset();
        recipe.ink.reset();
        EXPECT_EQ(recipe, Recipe{});
        EXPECT_TRUE(same(develop(original, recipe), original)) << field.key;
    }
}

TEST(Adjust, RandomRecipesAreDeterministicAndKeepTheOriginal) {
    const Raster original = letter(), kept{original.pixels.clone(), original.dpi, original.ink};
    Dice dice(11);
    for (int i = 0; i < 40; ++i) {
        Recipe recipe = dice.geometry(original.size_mm());
        recipe.adjust = dice.adjust(0.4);
        if (dice.heads()) recipe.ink = dice.heads() ? Ink::Black : Ink::Grey;
        if (i % 5 == 0) recipe.rim_mm = 1;
        EXPECT_TRUE(same(develop(original, recipe), develop(original, recipe))) << to_json(recipe).dump();
        ASSERT_TRUE(same(original, kept)) << to_json(recipe).dump();
        EXPECT_EQ(recipe_from_json(to_json(recipe)), recipe);
    }
}

// The recipe, its stored form and the page are the same, whichever correction is switched on first.
TEST(Adjust, TheOrderOfSwitchingOnDoesNotMatter) {
    const Raster original = letter();
    Dice dice(12);
    for (int i = 0; i < 12; ++i) {
        const Adjust wanted = dice.adjust(0.5);
        std::vector<AdjustField> fields(adjust_fields().begin(), adjust_fields().end());
        std::vector<Spot> eyes = wanted.eyes;
        const auto switched_on = [&] {
            Adjust adjust;
            for (const AdjustField& field : fields) {
                adjust.*field.value = wanted.*field.value;
                if (field.value == &Adjust::red_eyes) adjust.eyes = eyes;
            }
            adjust.drop_colour = wanted.drop_colour;
            return kept_in_range(adjust);
        };
        Recipe first, second;
        first.adjust = switched_on();
        dice.shuffle(fields);
        dice.shuffle(eyes);
        second.adjust = switched_on();
        EXPECT_EQ(to_json(first), to_json(second));
        EXPECT_TRUE(same(develop(original, first), develop(original, second))) << i;
    }
}

// Turning, cropping or flattening, and straightening are applied one after the other, each by its own matrix, and must
// lead to the same place of the original.
TEST(Adjust, ComposedGeometryEqualsItsMatricesInSequence) {
    const SizePx original{1180, 860};
    const double dpi = 200;
    Dice dice(13);
    double worst = 0;
    for (int i = 0; i < 300; ++i) {
        const Recipe recipe = dice.geometry({px_to_mm(original.width, dpi), px_to_mm(original.height, dpi)});
        const SizePx page = developed_size(recipe, original, dpi);
        const cv::Point2d at(dice.between(0, page.width - 1), dice.between(0, page.height - 1));
        // Backwards: first the tilt about the middle of the page …
        const double angle = recipe.tilt_degrees * std::numbers::pi / 180, mx = (page.width - 1) / 2.0,
                     my = (page.height - 1) / 2.0;
        cv::Point2d p(mx + std::cos(angle) * (at.x - mx) - std::sin(angle) * (at.y - my),
                      my + std::sin(angle) * (at.x - mx) + std::cos(angle) * (at.y - my));
        // … then the corners, by OpenCV's solution, or the crop …
        if (recipe.flatten) {
            const auto edge = [&](size_t k) {
                const PointMm& c = recipe.flatten->corners[k];
                return cv::Point2f(static_cast<float>(mm_to_px(c.x, dpi) - 0.5),
                                   static_cast<float>(mm_to_px(c.y, dpi) - 0.5));
            };
            const float w = static_cast<float>(page.width) - 0.5F, h = static_cast<float>(page.height) - 0.5F;
            const std::vector<cv::Point2f> flat{{-0.5F, -0.5F}, {w, -0.5F}, {w, h}, {-0.5F, h}},
                seen{edge(0), edge(1), edge(2), edge(3)};
            std::vector<cv::Point2d> out;
            cv::perspectiveTransform(std::vector<cv::Point2d>{p}, out, cv::getPerspectiveTransform(flat, seen));
            p = out[0];
        } else if (recipe.crop) {
            p += cv::Point2d(std::round(mm_to_px(recipe.crop->x, dpi)), std::round(mm_to_px(recipe.crop->y, dpi)));
        }
        // … and then quarter turns, one at a time.
        SizePx turned{recipe.turn_degrees % 180 ? original.height : original.width,
                      recipe.turn_degrees % 180 ? original.width : original.height};
        for (int t = 0; t < recipe.turn_degrees; t += 90) {
            p = {p.y, turned.width - 1 - p.x};
            std::swap(turned.width, turned.height);
        }
        const cv::Vec3d once = page_to_original(recipe, original, dpi) * cv::Vec3d(at.x, at.y, 1);
        worst = std::max(worst, std::hypot(once[0] / once[2] - p.x, once[1] / once[2] - p.y));
    }
    EXPECT_LT(worst, 0.05);
}

// A part shows what the file will contain at that part.
TEST(Adjust, APartOnScreenIsThatPartOfTheWholePage) {
    const Raster original = letter();
    Dice dice(14);
    for (int i = 0; i < 30; ++i) {
        Recipe recipe = dice.geometry(original.size_mm());
        recipe.adjust = dice.adjust(0.35);
        recipe.adjust.dust_mm = recipe.adjust.specks_mm = 0; // components at the part's rim may reach further
        if (i % 3 == 0) recipe.ink = Ink::Black;
        const Raster whole = develop(original, recipe);
        const cv::Rect part(whole.width_px() / 4, whole.height_px() / 3, whole.width_px() / 2, whole.height_px() / 3);
        const Raster seen = develop_part(original, {{original.width_px(), original.height_px()}, original.dpi, 1, part},
                                         recipe, measured(original, recipe));
        ASSERT_EQ(seen.pixels.size(), part.size());
        cv::Mat off;
        cv::absdiff(seen.pixels, whole.pixels(part), off);
        EXPECT_LE(cv::mean(off)[0], recipe.ink == Ink::Black ? 0.6 : 0.3) << to_json(recipe).dump();
    }
}

// Each correction is measured on the result of those before it, so applying all at once gives the same as applying one
// after the other. The page has uneven light, the shadow of a gutter, two punch holes and a pencil note.
Raster tired_page(bool colour) {
    Raster page{cv::Mat(1100, 780, CV_8UC3, cv::Scalar(222, 232, 236)), 100, Ink::Colour};
    for (int line = 0; line < 26; ++line)
        cv::putText(page.pixels, "The gate at Cobble Reach is shut", {130, 200 + 30 * line}, cv::FONT_HERSHEY_SIMPLEX,
                    0.7, {60, 50, 45}, 2, cv::LINE_AA);
    cv::putText(page.pixels, "ask Wren", {180, 120}, cv::FONT_HERSHEY_SCRIPT_SIMPLEX, 1.4, {176, 180, 182}, 2,
                cv::LINE_AA);
    for (const int y : {390, 705})
        cv::circle(page.pixels, {47, y}, 12, cv::Scalar(70, 70, 70), cv::FILLED, cv::LINE_AA);
    for (int y = 0; y < page.height_px(); ++y)
        for (int x = 0; x < page.width_px(); ++x) {
            const double lamp = 1 - 0.4 * x / page.width_px() * y / page.height_px();
            const double gutter = x > 740 ? 1 - 0.45 * (x - 740) / 40.0 : 1;
            cv::Vec3b& pixel = page.pixels.at<cv::Vec3b>(y, x);
            for (int c = 0; c < 3; ++c) pixel[c] = cv::saturate_cast<uchar>(pixel[c] * lamp * gutter);
        }
    return colour ? page : with_ink(page, Ink::Grey);
}

TEST(Adjust, CombinedCorrectionsEqualTheSameInSequence) {
    using Set = std::function<void(Adjust&)>;
    const Set even = [](Adjust&a) { a.even_light = 1; }, shadow = [](Adjust&a) { a.edge_shadow = 1; },
              holes = [](Adjust&a) { a.punch_holes = 1; }, white = [](Adjust&a) { a.paper_white = 60; },
              drop = [](Adjust&a) {
                  a.drop_colour = PickedColour{40, 90, 150}, a.drop_reach = 50;
              };
    for (const bool colour : {false, true}) {
        const Raster page = tired_page(colour);
        for (const std::vector<Set>& order : {std::vector<Set>{even, white},
                                              {even, shadow},
                                              {even, shadow, holes},
                                              {even, holes, white},
                                              {shadow, holes, white},
                                              {even, shadow, holes, drop, white}}) {
            Recipe at_once;
            Raster in_turn = page;
            for (const Set& set : order) {
                set(at_once.adjust);
                Recipe alone;
                set(alone.adjust);
                in_turn = develop(in_turn, alone);
            }
            const Raster together = develop(page, at_once);
            cv::Mat off;
            cv::absdiff(together.pixels, in_turn.pixels, off);
            EXPECT_LE(cv::mean(off.reshape(1))[0], 1.0) << order.size() << colour;
            const auto pencil = [](const Raster& of) {
                double darkest = 255;
                cv::minMaxLoc(grey_pixels(of)(cv::Rect(180, 90, 200, 40)), &darkest);
                return darkest;
            };
            EXPECT_NEAR(pencil(together), pencil(in_turn), 6) << order.size() << colour;
            EXPECT_LT(pencil(together), 235) << "the note is still there";
            EXPECT_LE(cv::norm(together.pixels(cv::Rect(35, 378, 24, 24)), in_turn.pixels(cv::Rect(35, 378, 24, 24)),
                               cv::NORM_INF),
                      12)
                << order.size() << colour;
        }
    }
}

// A hole is filled with the colour of the paper around it, evenly from side to side, also if the light falls off.
TEST(Adjust, AFilledHoleMatchesTheLightAroundIt) {
    Raster page{cv::Mat(600, 500, CV_8UC1), 100, Ink::Grey};
    for (int y = 0; y < page.height_px(); ++y)
        for (int x = 0; x < page.width_px(); ++x)
            page.pixels.at<uchar>(y, x) = cv::saturate_cast<uchar>(170 + x * 0.12 + y * 0.03);
    const cv::Mat clean = page.pixels.clone();
    for (const int y : {140, 455}) cv::circle(page.pixels, {47, y}, 12, cv::Scalar(40), cv::FILLED, cv::LINE_AA);
    Recipe recipe;
    recipe.adjust.punch_holes = 1;
    EXPECT_LE(cv::norm(develop(page, recipe).pixels, clean, cv::NORM_INF), 3);
}

// A ruled line with a speck on it continues straight through the place from which the speck was removed.
TEST(Adjust, RemovingDustKeepsEdges) {
    Raster photo{cv::Mat(300, 300, CV_8UC1, cv::Scalar(90)), 300, Ink::Grey};
    photo.pixels.colRange(150, 300).setTo(180); // an edge between two areas
    cv::GaussianBlur(photo.pixels, photo.pixels, {0, 0}, 1);
    const cv::Mat clean = photo.pixels.clone();
    for (const int y : {60, 150, 240}) cv::circle(photo.pixels, {150, y}, 2, cv::Scalar(250), cv::FILLED, cv::LINE_AA);
    Recipe recipe;
    recipe.adjust.dust_mm = 0.5;
    const cv::Mat out = develop(photo, recipe).pixels;
    for (const int y : {60, 150, 240}) {
        EXPECT_NEAR(out.at<uchar>(y, 145), 90, 12) << y;
        EXPECT_NEAR(out.at<uchar>(y, 155), 180, 12) << y;
        cv::Mat off;
        cv::absdiff(out(cv::Rect(140, y - 5, 20, 10)), clean(cv::Rect(140, y - 5, 20, 10)), off);
        EXPECT_LT(cv::mean(off)[0], 6) << y;
    }
}

TEST(Adjust, ValuesAreLimitedAndAnInvalidFileIsNoCrash) {
    Adjust adjust;
    adjust.brightness = 1e9;
    adjust.gamma = std::nan("");
    adjust.black_point = 200;
    adjust.white_point = 100;
    adjust = kept_in_range(adjust);
    EXPECT_EQ(adjust.brightness, 100);
    EXPECT_EQ(adjust.gamma, 1);
    EXPECT_EQ(adjust.white_point, 201);
    const auto odd =
        nlohmann::json::parse(R"({"brightness": "much", "drop_colour": "#12345", "eyes": [[1]], "specks_mm": 0.3})");
    EXPECT_EQ(adjust_from_json(odd).brightness, 0);
    EXPECT_FALSE(adjust_from_json(odd).drop_colour);
    EXPECT_NEAR(adjust_from_json(odd).specks_mm, 0.3, 1e-9);
    EXPECT_EQ(colour_from_text("#c03028"), (PickedColour{0xc0, 0x30, 0x28}));
}

TEST(Adjust, ToneCorrectionsDoWhatTheirNamesSay) {
    const Raster grey{noisy(300, 200, CV_8UC1, 5), 150, Ink::Grey};
    const auto mean = [&](auto change) {
        Recipe recipe;
        change(recipe.adjust);
        return cv::mean(develop(grey, recipe).pixels)[0];
    };
    const double as_is = cv::mean(grey.pixels)[0];
    EXPECT_NEAR(mean([](Adjust& a) { a.brightness = 20; }), as_is + 25.4, 4);
    EXPECT_GT(mean([](Adjust& a) { a.gamma = 1.5; }), as_is + 10);
    Recipe points;
    points.adjust.black_point = 50;
    points.adjust.white_point = 200;
    const auto tables = tone_tables(points.adjust, {});
    EXPECT_EQ(tables[0][50], 0);
    EXPECT_EQ(tables[0][200], 255);
    EXPECT_EQ(tables[0][125], 128);
    // Fading: the remaining range is spread over the full range.
    cv::Mat faded;
    grey.pixels.convertTo(faded, -1, 0.3, 150);
    Recipe restored;
    restored.adjust.fading = 100;
    double least = 0, most = 0;
    cv::minMaxLoc(develop({faded, 150, Ink::Grey}, restored).pixels, &least, &most);
    EXPECT_LT(least, 12);
    EXPECT_GT(most, 243);
}

// IEC 61966-2-1:1999: the two branches meet at 0.04045 and 0.0031308 (4.2); mid grey 128 is 0.2159 of the light, and
// half the light is level 188 (values as published with the standard's formula, from memory).
TEST(PublishedValues, SrgbTransfer) {
    EXPECT_NEAR(light_of(0.04045), 0.0031308, 1e-7);
    EXPECT_NEAR(light_of(128 / 255.0), 0.21586, 1e-5);
    EXPECT_NEAR(255 * stored_of(0.5), 187.52, 0.01);
    EXPECT_NEAR(255 * stored_of(0.18), 117.65, 0.01);
    for (int level = 0; level < 256; ++level) EXPECT_NEAR(255 * stored_of(light_of(level / 255.0)), level, 1e-9);
}

// ITU-R BT.601, 2.5.1: E'Y = 0.299 E'R + 0.587 E'G + 0.114 E'B.
TEST(PublishedValues, LumaWeights) {
    const auto luma = [](int blue, int green, int red) {
        return static_cast<int>(
            grey_pixels({cv::Mat(1, 1, CV_8UC3, cv::Scalar(blue, green, red)), 100, Ink::Colour}).at<uchar>(0));
    };
    EXPECT_EQ(luma(0, 0, 255), 76);
    EXPECT_EQ(luma(0, 255, 0), 150);
    EXPECT_EQ(luma(255, 0, 0), 29);
    EXPECT_EQ(luma(255, 255, 255), 255);
    EXPECT_EQ(luma(40, 120, 200), 135); // 59.8 + 70.44 + 4.56
}

TEST(AgainstLeptonica, OtsusThreshold) {
    for (const char* paper : {"invoice", "lease-1", "log-sheet", "till-receipt"}) {
        const Raster page = scan(paper, 0, 150, Ink::Grey, {40, 40, 100, 120});
        const PixPtr pix = to_pix(page);
        PIX* thresholds = nullptr;
        ASSERT_EQ(pixOtsuAdaptiveThreshold(pix.get(), page.width_px(), page.height_px(), 0, 0, 0, &thresholds, nullptr),
                  0);
        l_uint32 theirs = 0;
        pixGetPixel(thresholds, 0, 0, &theirs);
        pixDestroy(&thresholds);
        // Our threshold is kept a clear step below the paper, unlike Otsu's own.
        const int paper_at = paper_level(page.pixels),
                  expected = std::clamp(static_cast<int>(theirs), paper_at / 2, paper_at - 48);
        EXPECT_NEAR(black_threshold(page.pixels), expected, 1) << paper;
    }
}

TEST(AgainstLeptonica, TheLocalThreshold) {
    const Raster page = scan("log-sheet", 0.5, 150, Ink::Grey, {30, 30, 120, 120});
    constexpr int half = 15;
    const PixPtr pix = to_pix(page);
    PIX* theirs = nullptr;
    ASSERT_EQ(pixSauvolaBinarize(pix.get(), half, static_cast<float>(sauvola_k), 1, nullptr, nullptr, nullptr, &theirs),
              0);
    const cv::Mat ours = locally_black(page.pixels, half);
    int ink = 0, differ = 0;
    for (int y = half + 2; y < page.height_px() - half - 2; ++y) {
        for (int x = half + 2; x < page.width_px() - half - 2; ++x) {
            l_uint32 black = 0;
            pixGetPixel(theirs, x, y, &black);
            const bool is_ink = ours.at<uchar>(y, x) == 0;
            ink += is_ink ? 1 : 0;
            differ += is_ink != (black == 1) ? 1 : 0;
        }
    }
    pixDestroy(&theirs);
    EXPECT_GT(ink, 3000);
    EXPECT_LT(differ, ink / 50); // means in whole levels there, in fractions here
}

TEST(AgainstLeptonica, ThePerspective) {
    Dice dice(15);
    for (int i = 0; i < 50; ++i) {
        std::array<cv::Point2d, 4> from, to;
        PTA *theirs_from = ptaCreate(4), *theirs_to = ptaCreate(4);
        const double x[] = {0, 800, 800, 0}, y[] = {0, 0, 600, 600};
        for (size_t k = 0; k < 4; ++k) {
            from[k] = {x[k], y[k]};
            to[k] = {x[k] + std::round(dice.between(-90, 90)), y[k] + std::round(dice.between(-90, 90))};
            ptaAddPt(theirs_from, static_cast<float>(from[k].x), static_cast<float>(from[k].y));
            ptaAddPt(theirs_to, static_cast<float>(to[k].x), static_cast<float>(to[k].y));
        }
        l_float32* coefficients = nullptr;
        ASSERT_EQ(getProjectiveXformCoeffs(theirs_from, theirs_to, &coefficients), 0);
        const cv::Matx33d map = projection(from, to);
        for (int t = 0; t < 20; ++t) {
            const int px = static_cast<int>(dice.between(0, 800)), py = static_cast<int>(dice.between(0, 600));
            l_float32 tx = 0, ty = 0;
            projectiveXformPt(coefficients, px, py, &tx, &ty);
            const cv::Vec3d p = map * cv::Vec3d(px, py, 1);
            EXPECT_NEAR(p[0] / p[2], tx, 0.05);
            EXPECT_NEAR(p[1] / p[2], ty, 0.05);
        }
        LEPT_FREE(coefficients);
        ptaDestroy(&theirs_from);
        ptaDestroy(&theirs_to);
    }
}

// The corners of a photographed sheet: A4 seen by a camera with a known tilt. The ratio of its sides is recovered.
TEST(Flatten, CornersAndTheRatioOfSidesOfAPhotographedSheetAreRecovered) {
    const Raster sheet = scan("invoice", 0, 100, Ink::Grey);
    for (const double tilt : {0.0, 14.0, 26.0}) {
        const cv::Size view(1600, 1200);
        const double f = 1700, angle = tilt * std::numbers::pi / 180, turn = 0.35;
        std::array<cv::Point2d, 4> paper, seen;
        const double w = sheet.width_px(), h = sheet.height_px();
        const double px[] = {0, w, w, 0}, py[] = {0, 0, h, h};
        for (size_t k = 0; k < 4; ++k) {
            const double x0 = px[k] - w / 2, y0 = py[k] - h / 2;
            const double x = std::cos(turn) * x0 - std::sin(turn) * y0, y = std::sin(turn) * x0 + std::cos(turn) * y0;
            const double depth = 2300 + std::sin(angle) * y;
            paper[k] = {px[k] - 0.5, py[k] - 0.5};
            seen[k] = {view.width / 2.0 + f * x / depth, view.height / 2.0 + f * std::cos(angle) * y / depth};
        }
        cv::Mat photo(view, CV_8UC1, cv::Scalar(70));
        cv::warpPerspective(sheet.pixels, photo, projection(paper, seen), view, cv::INTER_LINEAR,
                            cv::BORDER_TRANSPARENT);
        const Raster picture{photo, 150, Ink::Grey};
        const auto corners = find_corners(picture);
        ASSERT_TRUE(corners) << tilt;
        for (size_t k = 0; k < 4; ++k)
            EXPECT_LT(std::hypot(mm_to_px((*corners)[k].x, 150) - 0.5 - seen[k].x,
                                 mm_to_px((*corners)[k].y, 150) - 0.5 - seen[k].y),
                      3)
                << tilt << " corner " << k;
        const SizeMm flat = flat_page_size(*corners, picture.size_mm());
        EXPECT_NEAR(flat.height / flat.width, std::numbers::sqrt2, 0.001) << tilt;
        Recipe recipe;
        recipe.flatten = Flatten{*corners, flat};
        // The flattened page equals the sheet.
        Raster page = develop(picture, recipe);
        cv::resize(page.pixels, page.pixels, sheet.pixels.size(), 0, 0, cv::INTER_AREA);
        cv::Mat a, b, score;
        cv::GaussianBlur(page.pixels, a, {0, 0}, 3);
        cv::GaussianBlur(sheet.pixels, b, {0, 0}, 3);
        cv::matchTemplate(a, b, score, cv::TM_CCOEFF_NORMED);
        EXPECT_GT(score.at<float>(0), 0.93) << tilt;
    }
    EXPECT_FALSE(find_corners({cv::Mat(600, 500, CV_8UC1, cv::Scalar(200)), 100, Ink::Grey}));
    EXPECT_FALSE(makes_a_page({PointMm{0, 0}, {10, 10}, {10, 0}, {0, 10}}));
}

}
}
