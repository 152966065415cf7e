// Pictures of hardly any size, and odd ones: everything that is done to a page by itself is done to them, or they are
// refused with a sentence.
#include "core/developing/develop.h"
#include "core/raster/image_file.h"
#include "core/stitch/piece_look.h"
#include "jobs/page_looker.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

void expect_all_works(int width, int height, double dpi, Ink ink, ReaderPool& readers) {
    const cv::Mat dots = noisy(width, height, ink == Ink::Colour ? CV_8UC3 : CV_8UC1, 5);
    Raster picture{dots, dpi, ink};
    if (ink == Ink::Black) cv::threshold(picture.pixels, picture.pixels, 127, 255, cv::THRESH_BINARY);
    Ticket ticket;
    ticket.how.ink.reset();
    for (const PageOrigin& origin : {PageOrigin{}, PageOrigin{true, false}}) {
        const Notices notices = noticed(picture, ticket, readers, origin);
        Recipe recipe = recipe_for(notices, picture, ticket, origin);
        EXPECT_FALSE(develop(picture, recipe).empty());
        const Raster small = thumbnail_of(picture, recipe);
        EXPECT_EQ(std::max(small.width_px(), small.height_px()), thumbnail_side);
        // By hand on top: every correction at once.
        for (const AdjustField& field : adjust_fields()) recipe.adjust.*field.value = (field.least + field.most) / 2;
        recipe.tilt_degrees = 3;
        EXPECT_FALSE(develop(picture, recipe).empty());
    }
    EXPECT_FALSE(at_resolution(picture, 75).empty());
    EXPECT_TRUE(readers.borrow()->read(picture, {"eng"}));
    EXPECT_TRUE(look_at_piece("a piece", picture) != nullptr);
}

TEST(SmallPicture, IsLookedAtDevelopedAndShown) {
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
