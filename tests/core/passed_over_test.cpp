// Short lines that the engine skipped: the last word of a paragraph is found by its ink, but specks and drawings are
// not taken for text.
#include "core/ocr/passed_over.h"

#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

constexpr int pitch = 50, left = 60;

// Lines of letters, with the engine's result for all but the last `unread`.
struct Drawn {
    Raster page{cv::Mat(900, 1200, CV_8UC1, cv::Scalar(255)), 150, Ink::Grey};
    TextLayer layer;
    std::vector<cv::Rect> lines;

    void write(const std::string& words, int line, bool is_read, uchar level = 0) {
        int descent = 0;
        const cv::Size size = cv::getTextSize(words, cv::FONT_HERSHEY_SIMPLEX, 0.9, 2, &descent);
        const cv::Point at{left, 100 + line * pitch};
        cv::putText(page.pixels, words, at, cv::FONT_HERSHEY_SIMPLEX, 0.9, cv::Scalar(level), 2, cv::LINE_AA);
        lines.push_back({at.x, at.y - size.height, size.width, size.height});
        if (!is_read) return;
        TextLine read;
        read.words = {{words, {at.x, at.y - size.height, size.width, size.height + descent}, 95}};
        read.baseline_start = {static_cast<double>(at.x), static_cast<double>(at.y)};
        read.baseline_end = {static_cast<double>(at.x + size.width), static_cast<double>(at.y)};
        read.ascent_px = size.height;
        read.descent_px = descent;
        read.language = "eng";
        layer.lines.push_back(read);
    }
};

Drawn paragraph() {
    Drawn drawn;
    drawn.write("Geese have nested under the footbridge again", 0, true);
    drawn.write("so that dogs stay on a short leash or on the", 1, true);
    return drawn;
}

TEST(PassedOver, AMissedLastWordOfAParagraphIsFoundByItsInk) {
    for (const uchar level : {uchar{0}, uchar{120}, uchar{190}}) { // coarse print comes in pale
        Drawn drawn = paragraph();
        drawn.write("lead.", 2, false, level);
        drawn.write("The keeper opens at eight and rests at noon", 4, true);
        const auto found = passed_over_lines(drawn.page, drawn.layer);
        ASSERT_EQ(found.size(), 1U) << int{level};
        const cv::Rect ink = found[0].words.at(0).box, wanted = drawn.lines[2];
        EXPECT_NEAR(ink.x, wanted.x, 4);
        EXPECT_NEAR(ink.br().x, wanted.br().x, 6);
        EXPECT_NEAR(found[0].baseline_start.y, 100 + 2 * pitch, 3);
        EXPECT_NEAR(found[0].ascent_px, drawn.layer.lines[0].ascent_px, 0.1);
        EXPECT_EQ(found[0].language, "eng");
    }
}

TEST(PassedOver, InkElsewhereIsNotRead) {
    const auto none_of = [](const char* what, const std::function<void(Drawn&)>& add) {
        Drawn drawn = paragraph();
        add(drawn);
        EXPECT_TRUE(passed_over_lines(drawn.page, drawn.layer).empty()) << what;
    };
    none_of("nothing", [](Drawn&) {});
    none_of("far below", [](Drawn& drawn) { drawn.write("lead.", 9, false); });
    none_of("a rule", [](Drawn& drawn) {
        cv::line(drawn.page.pixels, {left, 100 + 2 * pitch}, {left + 700, 100 + 2 * pitch}, cv::Scalar(0), 2);
    });
    none_of("a drawing", [](Drawn& drawn) {
        cv::circle(drawn.page.pixels, {left + 300, 100 + 4 * pitch}, 90, cv::Scalar(0), 3);
    });
    none_of("two specks", [](Drawn& drawn) {
        for (const int x : {left, left + 30})
            cv::circle(drawn.page.pixels, {x, 90 + 2 * pitch}, 4, cv::Scalar(0), cv::FILLED);
    });
    none_of("a screen of dots", [](Drawn& drawn) {
        for (int y = 160; y < 700; y += 14)
            for (int x = left; x < 1000; x += 14)
                cv::circle(drawn.page.pixels, {x, y}, 5, cv::Scalar(0), cv::FILLED, cv::LINE_AA);
    });
    none_of("nobody to stand beside", [](Drawn& drawn) {
        drawn.write("lead.", 2, false);
        drawn.layer.lines.clear();
    });
}

}
}
