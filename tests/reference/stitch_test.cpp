// Stitching compared with known truth: items larger than the glass, scanned in pieces by the simulated scanner, each in
// its own position, with grain and uneven light. Figures in pixels are at 150 dpi.
#include "core/stitch/compose.h"
#include "core/stitch/match.h"
#include "core/stitch/search.h"
#include "support/pieces.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

constexpr double pixel_mm = mm_per_inch / 150;

std::vector<PieceLookPtr> looks_of(const std::vector<TruePiece>& pieces) {
    std::vector<PieceLookPtr> out(pieces.size());
    cv::parallel_for_({0, static_cast<int>(pieces.size())}, [&](const cv::Range& range) {
        for (int i = range.start; i < range.end; ++i)
            out[static_cast<size_t>(i)] =
                look_at_piece(fmt::format("piece {}", i + 1), pieces[static_cast<size_t>(i)].raster);
    });
    return out;
}

StitchSource source_of(const std::vector<TruePiece>& pieces) {
    return {[&](size_t i) -> Result<Raster> { return pieces[i].raster; }};
}

CornerErrors errors_of(const std::vector<TruePiece>& pieces, const std::vector<PieceLookPtr>& looks,
                       const Layout& layout) {
    std::vector<Pose> found, truth;
    std::vector<SizeMm> sizes;
    for (size_t i = 0; i < pieces.size(); ++i) {
        if (!layout.pieces[i].placed || !pieces[i].belongs) continue;
        found.push_back(layout.pieces[i].pose);
        truth.push_back(pieces[i].to_object);
        sizes.push_back(looks[i]->size);
    }
    return corner_errors(found, truth, sizes);
}

// The mean difference in grey levels between the stitched picture and the item, near the seams and elsewhere.
struct Differences {
    double at_seams = 0, elsewhere = 0;
};
Differences differences(const PieceSet& set, const std::vector<PieceLookPtr>& looks, const Layout& layout) {
    const auto tones = even_tones(looks, layout);
    const SeamMap seams = choose_seams(looks, layout, tones);
    const auto picture = composed_part(looks, layout, tones, seams, source_of(set.pieces),
                                       {0, 0, layout.size.width, layout.size.height});
    if (!picture) return {99, 1};
    // The map from the picture to the item, from all pieces.
    std::vector<cv::Point2d> from, to;
    for (size_t i = 0; i < set.pieces.size(); ++i) {
        if (!layout.pieces[i].placed || !set.pieces[i].belongs) continue;
        for (const cv::Point2d& c : corners_of(layout.pieces[i].pose, looks[i]->size)) from.push_back(c);
        for (const cv::Point2d& c : corners_of(set.pieces[i].to_object, looks[i]->size)) to.push_back(c);
    }
    const Pose to_object = rigid_between(from, to);
    const Raster truth = whole(set, layout.dpi, picture->ink);
    // The true picture in the position of the stitched one, aligned by the centres of the pieces.
    const double d = layout.dpi / mm_per_inch;
    const auto at = [&](double x, double y) {
        const cv::Point2d mm = to_object(cv::Point2d((x + 0.5) / d, (y + 0.5) / d));
        return cv::Point2d(mm.x * d - 0.5, mm.y * d - 0.5);
    };
    const cv::Point2d o = at(0, 0), dx = at(1, 0) - o, dy = at(0, 1) - o;
    const cv::Matx23d map(dx.x, dy.x, o.x, dx.y, dy.y, o.y);
    cv::Mat lying, inside, off;
    const int flags = cv::INTER_CUBIC | cv::WARP_INVERSE_MAP;
    cv::warpAffine(truth.pixels, lying, map, picture->pixels.size(), flags);
    cv::warpAffine(cv::Mat(truth.pixels.size(), CV_8U, cv::Scalar(255)), inside, map, picture->pixels.size(),
                   cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
    cv::erode(inside, inside, cv::Mat::ones(9, 9, CV_8U));
    // The overall brightness does not matter for seams, so the whole picture is first given the tones of the truth.
    cv::Scalar mean_p, mean_t;
    mean_p = cv::mean(picture->pixels, inside);
    mean_t = cv::mean(lying, inside);
    cv::Mat even;
    picture->pixels.convertTo(even, CV_32F, mean_t[0] / mean_p[0]);
    cv::Mat truth_float;
    lying.convertTo(truth_float, CV_32F);
    cv::absdiff(even, truth_float, off);
    cv::Mat band(picture->pixels.size(), CV_8U, cv::Scalar(0));
    cv::Mat owner;
    cv::resize(seams.owner, owner, picture->pixels.size(), 0, 0, cv::INTER_NEAREST);
    for (int y = 1; y < owner.rows; ++y)
        for (int x = 1; x < owner.cols; ++x)
            if (owner.at<uchar>(y, x) != owner.at<uchar>(y, x - 1) ||
                owner.at<uchar>(y, x) != owner.at<uchar>(y - 1, x))
                band.at<uchar>(y, x) = 255;
    cv::dilate(band, band, cv::Mat::ones(21, 21, CV_8U)); // 20 pixels wide
    cv::Mat usable = inside == 255;
    return {cv::mean(off, band & usable)[0], cv::mean(off, ~band & usable)[0]};
}

// A set that was scanned, analysed and laid out.
struct Solved {
    PieceSet set;
    std::vector<PieceLookPtr> looks;
    Result<Layout> layout;
};

class StitchSets : public testing::Test {
  protected:
    TempFolder folder_;
    Solved solved(HardSet which) {
        PieceSet set = hard_set(folder_.path(), which);
        auto looks = looks_of(set.pieces);
        auto layout = find_layout(looks);
        return {std::move(set), std::move(looks), std::move(layout)};
    }
};

class EachStitchSet : public StitchSets, public testing::WithParamInterface<int> {};

TEST_P(EachStitchSet, PlacesEveryPieceNamesTheStrangerAndHasGoodSeams) {
    const auto [set, looks, layout] = solved(static_cast<HardSet>(GetParam()));
    SCOPED_TRACE(set.name);
    ASSERT_TRUE(layout);
    for (size_t i = 0; i < set.pieces.size(); ++i) {
        EXPECT_EQ(layout->pieces[i].placed, set.pieces[i].belongs) << "piece " << i + 1 << layout->pieces[i].reason;
        EXPECT_EQ(layout->pieces[i].reason.empty(), layout->pieces[i].placed);
    }
    const CornerErrors errors = errors_of(set.pieces, looks, *layout);
    EXPECT_LT(errors.worst_mm, 1.0 * pixel_mm);
    EXPECT_LT(errors.mean_mm, 0.4 * pixel_mm);
    // Every pair that really overlaps is a seam, and no other.
    for (const Seam& seam : layout->seams) {
        EXPECT_TRUE(set.pieces[seam.a].belongs && set.pieces[seam.b].belongs);
        if (!seam.empty) {
            EXPECT_GT(seam.agreement, 0.9) << seam.a << " " << seam.b;
        }
    }
    const Differences off = differences(set, looks, *layout);
    EXPECT_LT(off.at_seams, 1.3 * off.elsewhere) << off.at_seams << " against " << off.elsewhere;
    EXPECT_LT(off.elsewhere, 14) << "the picture is not the thing";
}

INSTANTIATE_TEST_SUITE_P(All, EachStitchSet, testing::Range(0, hard_set_count));

TEST_F(StitchSets, TheOrderOfThePiecesDoesNotMatter) {
    const PieceSet set = hard_set(folder_.path(), HardSet::DrawingOfNine);
    std::vector<TruePiece> turned_around(set.pieces.rbegin(), set.pieces.rend());
    std::swap(turned_around[1], turned_around[5]);
    const auto looks = looks_of(turned_around);
    const auto layout = find_layout(looks);
    ASSERT_TRUE(layout);
    EXPECT_EQ(layout->placed(), 9U);
    EXPECT_LT(errors_of(turned_around, looks, *layout).worst_mm, pixel_mm);
}

TEST_F(StitchSets, AnOriginalWithVisibleEdgesIsCroppedToThem) {
    const auto [set, looks, layout] = solved(HardSet::PhotographOfTwo); // its edges against the lid
    ASSERT_TRUE(layout);
    const double width = px_to_mm(layout->size.width, layout->dpi), height = px_to_mm(layout->size.height, layout->dpi);
    EXPECT_NEAR(std::min(width, height), std::min(set.size.width, set.size.height), 5);
    EXPECT_NEAR(std::max(width, height), std::max(set.size.width, set.size.height), 5);
    // And it is straight: the item's sides are parallel to the picture's.
    const double turn = layout->pieces[0].pose.radians - set.pieces[0].to_object.radians;
    EXPECT_NEAR(std::remainder(turn * 180 / CV_PI, 90), 0, 0.15);
}

TEST_F(StitchSets, APieceThatOverlapsTooLittleIsNamedWithItsNeighbour) {
    // Ten millimetres of overlap are asked for; these two pieces have two.
    const PieceSet set = hard_set(folder_.path(), HardSet::PhotographOfTwo);
    std::vector<TruePiece> pieces = set.pieces;
    for (TruePiece& piece : pieces) { // each cut to its own half of the thing
        const bool left = piece.to_object({piece.raster.size_mm().width / 2, piece.raster.size_mm().height / 2}).x <
                          set.size.width / 2;
        const Pose back = piece.to_object.inverse();
        cv::Mat mask(piece.raster.pixels.size(), CV_8U, cv::Scalar(0));
        const double from = left ? -400 : set.size.width / 2 - 1, to = left ? set.size.width / 2 + 1 : 800;
        std::vector<cv::Point> half;
        for (const cv::Point2d& c : {cv::Point2d(from, -400), {to, -400}, {to, 800}, {from, 800}})
            half.emplace_back(back(c) * (150 / mm_per_inch));
        cv::fillConvexPoly(mask, half, 255);
        piece.raster.pixels = piece.raster.pixels.clone();
        piece.raster.pixels.setTo(cv::Scalar::all(225), mask == 0);
    }
    const auto layout = find_layout(looks_of(pieces));
    ASSERT_TRUE(layout);
    EXPECT_EQ(layout->placed(), 1U);
    EXPECT_FALSE(layout->pieces[1].reason.empty());
}

TEST_F(StitchSets, AWrongResolutionIsReportedAndAFreeScaleCorrectsIt) {
    std::vector<TruePiece> pieces = hard_set(folder_.path(), HardSet::PhotographOfFourAndAStranger).pieces;
    pieces.erase(std::ranges::find(pieces, false, &TruePiece::belongs));
    const auto honest = find_layout(looks_of(pieces));
    ASSERT_TRUE(honest);
    EXPECT_TRUE(honest->warnings.empty()) << honest->warnings.front();
    pieces[1].raster.dpi = 151; // it says so, but it was 150
    const auto looks = looks_of(pieces);
    const auto known = find_layout(looks);
    ASSERT_TRUE(known);
    ASSERT_FALSE(known->warnings.empty());
    EXPECT_NE(known->warnings.front().find("piece 2"), std::string::npos) << known->warnings.front();
    const auto free_scale = find_layout(looks, {Scale::Free});
    ASSERT_TRUE(free_scale);
    ASSERT_EQ(free_scale->placed(), 4U);
    EXPECT_NEAR(free_scale->pieces[1].pose.scale / free_scale->pieces[0].pose.scale, 151.0 / 150, 0.0003);
}

TEST_F(StitchSets, ComposingRowByRowEqualsComposingAPart) {
    const auto [set, looks, layout] = solved(HardSet::DrawingOfTwo);
    ASSERT_TRUE(layout);
    const auto tones = even_tones(looks, *layout);
    const SeamMap seams = choose_seams(looks, *layout, tones);
    cv::Mat all;
    int loads = 0;
    StitchSource source = source_of(set.pieces);
    source.load = [&, load = source.load](size_t i) {
        ++loads;
        return load(i);
    };
    source.most_bytes = 1; // only one piece is held
    ASSERT_TRUE(compose(looks, *layout, tones, seams, source, [&](const cv::Mat& rows) -> Result<void> {
        all.push_back(rows.clone());
        return {};
    }));
    EXPECT_EQ(all.rows, layout->size.height);
    EXPECT_GE(loads, 2);
    const cv::Rect part(all.cols / 3, all.rows / 2 - 200, 400, 400);
    const auto seen = composed_part(looks, *layout, tones, seams, source_of(set.pieces), part);
    ASSERT_TRUE(seen);
    EXPECT_LE(cv::norm(seen->pixels, all(part), cv::NORM_INF), 1);
}

TEST_F(StitchSets, APieceDroppedNearItsPlaceSnaps) {
    const auto [set, looks, layout] = solved(HardSet::DrawingOfTwelve);
    ASSERT_TRUE(layout);
    const SizeMm size = looks[5]->size;
    const Pose right = layout->pieces[5].pose;
    const cv::Point2d middle = right({size.width / 2, size.height / 2});
    const Layout put = with_piece_put(looks, *layout, 5, moved(right, 0.02, middle, {5, -6}));
    // Relative to a neighbour, because the crop of the picture may have changed.
    const Pose was = layout->pieces[0].pose.inverse() * right, is = put.pieces[0].pose.inverse() * put.pieces[5].pose;
    EXPECT_LT(corner_distance(was, is, size), 0.1);
    // Far from any good fit it stays where it was put, and its seams are doubtful.
    const Layout far = with_piece_put(looks, *layout, 5, moved(right, 0.3, middle, {60, 40}));
    const Pose there = far.pieces[0].pose.inverse() * far.pieces[5].pose;
    EXPECT_LT(corner_distance(there, layout->pieces[0].pose.inverse() * moved(right, 0.3, middle, {60, 40}), size),
              0.1);
    EXPECT_TRUE(
        std::ranges::any_of(far.seams, [](const Seam& s) { return (s.a == 5 || s.b == 5) && !s.doubt.empty(); }));
}

TEST(Stitch, TwoLettersOnTheSamePaperAreNotJoined) {
    const TempFolder folder;
    const auto one = laid_in_pieces(folder.path(), "one", ObjectKind::Text, 31, {.columns = 1, .rows = 1});
    const auto other = laid_in_pieces(folder.path(), "other", ObjectKind::Text, 32, {.columns = 1, .rows = 1});
    const auto table = laid_in_pieces(folder.path(), "table", ObjectKind::Table, 33, {.columns = 1, .rows = 1});
    const auto second = laid_in_pieces(folder.path(), "second", ObjectKind::Table, 34, {.columns = 1, .rows = 1});
    const auto layout = find_layout(looks_of({one.pieces[0], other.pieces[0], table.pieces[0], second.pieces[0]}));
    ASSERT_TRUE(layout);
    EXPECT_EQ(layout->placed(), 1U);
    EXPECT_TRUE(layout->seams.empty());
}

TEST(Stitch, AFormWithOtherEntriesIsNotAPieceOfIt) {
    const TempFolder folder;
    const auto form = laid_in_pieces(folder.path(), "form", ObjectKind::Table, 61, {.columns = 1, .rows = 1});
    Raster other = form.pieces[0].raster;
    other.pixels = other.pixels.clone();
    for (const int y : {300, 520, 760}) // three entries struck out
        cv::line(other.pixels, {250, y}, {420, y + 20}, cv::Scalar(40, 40, 40), 6);
    const auto layout = find_layout(looks_of({form.pieces[0], {other, {}}}));
    ASSERT_TRUE(layout);
    EXPECT_EQ(layout->placed(), 1U);
    // The same sheet scanned twice fits.
    EXPECT_EQ(find_layout(looks_of({form.pieces[0], form.pieces[0]}))->placed(), 2U);
}

TEST(Stitch, TonesAreMatchedOnlyIfTheirDifferenceIsVisible) {
    const TempFolder folder;
    auto set = laid_in_pieces(folder.path(), "map", ObjectKind::Drawing, 71,
                              {.columns = 2, .rows = 1, .most_brighter = 0, .grain = 1});
    const auto brightness = [](const Tones& t) { return t.gain_at(1, 0, 0) * 220 + t.offset[1]; };
    set.pieces[1].raster.pixels *= 0.93;
    const auto looks = looks_of(set.pieces);
    const auto layout = find_layout(looks);
    ASSERT_TRUE(layout);
    ASSERT_EQ(layout->placed(), 2U);
    const auto tones = even_tones(looks, *layout);
    EXPECT_NEAR(brightness(tones[1]) / brightness(tones[0]), 1 / 0.93, 0.02);
    // One scan, cut in two: no pixel changes.
    const Raster whole = set.pieces[0].raster;
    const int half = whole.width_px() / 2;
    std::vector<PieceLookPtr> halves;
    for (const cv::Rect& part : {cv::Rect(0, 0, half + 120, whole.height_px()),
                                 cv::Rect(half - 120, 0, whole.width_px() - half + 120, whole.height_px())})
        halves.push_back(look_at_piece("half", {whole.pixels(part).clone(), whole.dpi, whole.ink}));
    const auto again = find_layout(halves);
    ASSERT_TRUE(again);
    ASSERT_EQ(again->placed(), 2U);
    for (const Tones& t : even_tones(halves, *again)) EXPECT_TRUE(t.untouched());
}

TEST(Stitch, BlankAndTinyPiecesAreReported) {
    const Raster blank{cv::Mat(600, 400, CV_8UC3, cv::Scalar(240, 240, 240)), 150, Ink::Colour};
    const Raster tiny{cv::Mat(9, 7, CV_8UC1, cv::Scalar(200)), 150, Ink::Grey};
    const auto noisy_one = Raster{noisy(500, 700, CV_8UC3, 3), 150, Ink::Colour};
    const auto layout =
        find_layout({look_at_piece("blank", blank), look_at_piece("tiny", tiny), look_at_piece("noisy", noisy_one)});
    ASSERT_TRUE(layout);
    EXPECT_EQ(layout->placed(), 1U);
    for (const PlacedPiece& piece : layout->pieces) EXPECT_NE(piece.placed, !piece.reason.empty());
    EXPECT_FALSE(find_layout({look_at_piece("alone", blank)}));
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(
        find_layout({look_at_piece("a", noisy_one), look_at_piece("b", noisy_one)}, {}, stop.get_token()).error().kind,
        ErrorKind::Stopped);
}

TEST(Stitch, PiecesOfDifferentResolutionsAreStitchedAtTheHighest) {
    const TempFolder folder;
    auto set = laid_in_pieces(folder.path(), "map", ObjectKind::Drawing, 41, {.columns = 2, .rows = 1, .dpi = 300});
    set.pieces[0].raster = at_resolution(set.pieces[0].raster, 150);
    const auto looks = looks_of(set.pieces);
    const auto layout = find_layout(looks);
    ASSERT_TRUE(layout);
    EXPECT_EQ(layout->placed(), 2U);
    EXPECT_EQ(layout->dpi, 300);
    EXPECT_LT(errors_of(set.pieces, looks, *layout).worst_mm, pixel_mm / 2);
}

TEST(Stitch, TheQuarterTurnOfAPieceIsFoundFromItsLines) {
    const TempFolder folder;
    const auto set = laid_in_pieces(folder.path(), "plan", ObjectKind::Plan, 51, {.columns = 1, .rows = 1});
    const auto main = main_direction(edge_directions(*look_at_piece("plan", set.pieces[0].raster)));
    EXPECT_GT(main.share, clear_direction);
    const double truth = -set.pieces[0].to_object.radians * 180 / CV_PI;
    EXPECT_NEAR(std::remainder(main.degrees - truth, 90), 0, 0.1);
}

}
}
