// A logo is not text: bars, waves and rings beside a heading are not read as letters.
#include "core/ocr/logo_words.h"
#include "core/ocr/reader.h"
#include "support/logos.h"
#include "support/support.h"
#include "support/trials.h"

#include <fmt/format.h>

#include <iterator>
#include <sstream>

namespace yelvin::test {
namespace {

// The thresholds were set on seeds up to 60. Without them, 51 of those pages have words that were not printed.
TEST(Logo, IsNotReadAsLetters) {
    const auto pages = static_cast<unsigned>(trials(14));
    Reader reader;
    unsigned with_words = 0;
    std::string said;
    for (unsigned seed = 61; seed < 61 + pages; ++seed) {
        const LogoPage page = logo_page(seed);
        const auto read = reader.read(page.scanned, {"eng"});
        ASSERT_TRUE(read) << read.error().sentence;
        bool any = false;
        for (const TextLine& line : read->lines)
            for (const Word& word : line.words)
                if (2 * (word.box & page.logo).area() > word.box.area()) {
                    any = true;
                    said += fmt::format(" {} ({} {})", word.text, page.kind, seed);
                }
        with_words += any ? 1 : 0;
        const std::string text = read->text();
        EXPECT_TRUE(text.contains("Lower Basin Chandlery")) << seed << ": " << text.substr(0, 60);
    }
    EXPECT_LE(3 * with_words, pages) << said;
}

TEST(Logo, TheDemoLetterheadHasNoLogo) {
    Reader reader;
    for (const char* name : {"lease-1", "log-sheet"}) {
        const auto read = reader.read(scan(name, 0, 300, Ink::Colour), {"eng"});
        ASSERT_TRUE(read) << read.error().sentence;
        EXPECT_TRUE(read->text().starts_with("Wendle Navigation Trust\n")) << read->text().substr(0, 60);
    }
}

// A line of letters of one height and stroke, and the shapes beside it.
class NoLettersTest : public testing::Test {
  protected:
    cv::Mat grey_{300, 900, CV_8U, cv::Scalar(255)};
    TextLayer layer_;

    void bar(cv::Rect box) { grey_(box) = 0; }
    // Upright strokes 5 pixels wide and 30 high, as a word.
    Word strokes(int x, const char* text, double confidence, int high = 30, int wide = 5) {
        for (int i = 0; i < 4; ++i) bar({x + 20 * i, 100 - high, wide, high});
        return {text, {x, 100 - high, 60 + wide, high}, confidence};
    }
    std::string left(std::vector<Word> words) {
        layer_.lines = {{std::move(words), {0, 100}, {900, 100}, 30, 8, "eng"}};
        remove_logo_words(layer_, grey_, [](const std::string& word, const std::string&) { return word == "ant"; });
        return layer_.text();
    }
};

TEST_F(NoLettersTest, WordsFarTallerOrThickerThanTheirLineAreRemovedUnlessConfident) {
    const Word print = strokes(200, "Harbour", 96), same = strokes(300, "Iln", 60);
    const Word tall = strokes(400, "SK", 68, 60), thick = strokes(500, "Ii", 80, 30, 14);
    EXPECT_EQ(left({print, same, tall, thick}), "Harbour Iln\n");
    EXPECT_EQ(left({print, {"14", tall.box, 97}}), "Harbour 14\n") << "a large number";
    EXPECT_EQ(left({print, {"Zetmor", tall.box, 60}}), "Harbour Zetmor\n") << "a name";
    EXPECT_EQ(left({print, {"ant", tall.box, 55}}), "Harbour\n");
    EXPECT_EQ(left({print, {"ant", tall.box, 92}}), "Harbour ant\n");
    EXPECT_EQ(left({print, {">", tall.box, 97}}), "Harbour\n") << "a mark as no mark is";
    EXPECT_EQ(left({print, {"-", {300, 85, 20, 4}, 60}}), "Harbour -\n");
    EXPECT_EQ(left({{"SK", tall.box, 20}}), "SK\n") << "nothing to compare with";
}

}
}
