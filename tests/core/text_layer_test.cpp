#include "core/ocr/reader.h"

#include "jobs/reader_pool.h"
#include "support/support.h"

#include <thread>

namespace yelvin::test {
namespace {

TEST(TextLayer, SurvivesItsJson) {
    const TextLayer layer{{{{{"Ünlü", {1, 2, 3, 4}, 55.5}, {"🚢", {9, 2, 3, 4}, 99}}, {1, 6.5}, {12, 6.25}, 4.5, 1.25},
                           {{{"end", {1, 12, 3, 4}, 80}}, {1, 16}, {4, 16}, 4, 1}},
                          100,
                          50};
    EXPECT_EQ(text_layer_from_json(nlohmann::json::parse(to_json(layer).dump())), layer);
    EXPECT_EQ(layer.text(), "Ünlü 🚢\nend\n");
    EXPECT_EQ(layer.word_count(), 3);
}

TEST(Reader, ReadsWordsWithTheirInkAndLines) {
    Reader reader;
    const Raster page = scan("invoice", 0, 300, Ink::Grey, {0, 0, 210, 60});
    const auto layer = reader.read(page, {"eng"});
    ASSERT_TRUE(layer) << layer.error().sentence;
    EXPECT_EQ(layer->width_px, page.width_px());
    const auto line =
        std::ranges::find_if(layer->lines, [](const TextLine& l) { return l.words.front().text == "Penhallow"; });
    ASSERT_NE(line, layer->lines.end()) << layer->text();
    const Word& word = line->words.front();
    EXPECT_GT(word.confidence, 80);
    // The truth: 18 pt type that begins at 25 mm, with its baseline at 28 mm.
    EXPECT_NEAR(px_to_mm(word.box.x, 300), 25.4, 0.5);
    EXPECT_NEAR(px_to_mm(line->baseline_start.y, 300), 28, 0.3);
    EXPECT_NEAR(px_to_mm(line->ascent_px, 300), 0.73 * 18 * mm_per_inch / points_per_inch, 0.4);
    for (const TextLine& each : layer->lines) {
        for (const Word& w : each.words)
            EXPECT_TRUE((cv::Rect(0, 0, page.width_px(), page.height_px()) & w.box) == w.box) << w.text;
    }
}

TEST(Reader, ReportsAnUnknownLanguageAndTheInstalledOnes) {
    Reader reader;
    const auto failed = reader.read({cv::Mat(100, 100, CV_8UC1, cv::Scalar(255)), 300, Ink::Grey}, {"tlh"});
    ASSERT_FALSE(failed);
    EXPECT_EQ(failed.error().kind, ErrorKind::Missing);
    EXPECT_NE(failed.error().sentence.find("“tlh”"), std::string::npos);
    EXPECT_NE(failed.error().sentence.find("eng"), std::string::npos);
    EXPECT_TRUE(reader.read({cv::Mat(100, 100, CV_8UC1, cv::Scalar(255)), 300, Ink::Grey}, {"eng"}))
        << "and goes on afterwards";
}

TEST(Reader, StopsWithinAPage) {
    Reader reader;
    const Raster page = scan("lease-1", 0, 200, Ink::Grey);
    std::stop_source stop;
    int last = 0;
    const auto read = reader.read(page, {"eng"}, stop.get_token(), [&](int percent) {
        last = percent;
        if (percent > 0) stop.request_stop();
    });
    ASSERT_FALSE(read);
    EXPECT_EQ(read.error().kind, ErrorKind::Stopped);
    EXPECT_GT(last, 0);
    EXPECT_LT(last, 90) << "it did not read to the end first";
}

TEST(Reader, AnEmptyPageHasNoWords) {
    Reader reader;
    const auto layer = reader.read({cv::Mat(600, 400, CV_8UC1, cv::Scalar(240)), 100, Ink::Grey}, {"eng"});
    ASSERT_TRUE(layer);
    EXPECT_EQ(layer->word_count(), 0);
}

TEST(ReaderPool, LendsOneReaderToOneThreadAndKeepsThem) {
    ReaderPool pool;
    Reader* first = nullptr;
    {
        const auto a = pool.borrow(), b = pool.borrow();
        EXPECT_NE(&*a, &*b);
        first = &*a;
    }
    const auto c = pool.borrow(), d = pool.borrow();
    EXPECT_TRUE(&*c == first || &*d == first);
}

}
}
