// Tiny pictures and pictures of unusual shapes: everything that is done to a page automatically works on them, or they
// are refused with a sentence.
#include "core/developing/develop.h"
#include "core/raster/image_file.h"
#include "core/stitch/piece_look.h"
#include "jobs/page_looker.h"
#include "jobs/reader_pool.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

void expect_all_works(int width, int height, double dpi, Ink ink, ReaderPool& readers) {
    const cv::Mat pixels = noisy(width, height, ink == Ink::Colour ? CV_8UC3 : CV_8UC1, 5);
    Raster picture{pixels, dpi, ink};
    if (ink == Ink::Black) cv::threshold(picture.pixels, picture.pixels, 127, 255, cv::THRESH_BINARY);
    Ticket ticket;
    ticket.how.ink.reset();
    for (const PageOrigin& origin : {PageOrigin{}, PageOrigin{true, false}}) {
        const Notices notices = noticed(picture, ticket, readers, origin);
        Recipe recipe = recipe_for(notices, picture, ticket, origin);
        const Raster page = develop(picture, recipe);
        const SizePx wanted = developed_size(recipe, {width, height}, dpi);
        EXPECT_EQ(page.width_px(), wanted.width);
        EXPECT_EQ(page.height_px(), wanted.height);
        EXPECT_EQ(page.ink, recipe.ink.value_or(ink));
        const Raster small = thumbnail_of(picture, recipe);
        EXPECT_EQ(std::max(small.width_px(), small.height_px()), thumbnail_side);
        // And every correction by hand at the same time.
        for (const AdjustField& field : adjust_fields()) recipe.adjust.*field.value = (field.least + field.most) / 2;
        recipe.tilt_degrees = 3;
        const SizePx tilted = developed_size(recipe, {width, height}, dpi);
        EXPECT_EQ(develop(picture, recipe).width_px(), tilted.width);
        EXPECT_EQ(develop(picture, recipe).height_px(), tilted.height);
    }
    const Raster coarse = at_resolution(picture, 75);
    EXPECT_NEAR(coarse.width_px(), std::max(1.0, width * std::min(1.0, 75 / dpi)), 1);
    EXPECT_NEAR(coarse.height_px(), std::max(1.0, height * std::min(1.0, 75 / dpi)), 1);
    const auto read = readers.borrow()->read(picture, {"eng"});
    ASSERT_TRUE(read) << read.error().sentence;
    EXPECT_EQ(read->width_px, width);
    EXPECT_EQ(read->height_px, height);
    const PieceLookPtr look = look_at_piece("a piece", picture);
    ASSERT_TRUE(look);
    EXPECT_EQ(look->name, "a piece");
}

TEST(SmallPicture, IsCheckedDevelopedAndShown) {
    ReaderPool readers;
    for (const cv::Size& size : {cv::Size(8, 8), {9, 9}, {12, 8}, {40, 40}, {1000, 8}, {600, 12}, {12, 700}}) {
        for (const double dpi : {72.0, 300.0, 1200.0}) {
            for (const Ink ink : {Ink::Colour, Ink::Black}) {
                SCOPED_TRACE(testing::Message() << size << " at " << dpi << " " << ink_word(ink));
                EXPECT_NO_THROW(expect_all_works(size.width, size.height, dpi, ink, readers));
            }
        }
    }
}

}
}
