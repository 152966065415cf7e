// Worn words are corrected by the shapes of letters, by the letters as the page prints them, and by how common a word
// is.
#include "core/ocr/letter_shapes.h"
#include "core/ocr/page_letters.h"
#include "core/ocr/parted_words.h"
#include "core/ocr/reader.h"
#include "core/ocr/word_counts.h"
#include "support/hard_pages.h"
#include "support/sheet.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <iterator>
#include <sstream>

namespace yelvin::test {
namespace {

// Heights in pixels: a low letter has 20, a tall one of its line 29.
TEST(LetterShapes, SmallAndCapitalLettersOfTheSameShapeAreDistinguishedByHeight) {
    const cv::Rect low{0, 9, 16, 20}, large{0, 0, 18, 29};
    const auto word = [](cv::Rect first, cv::Rect second, cv::Rect third) {
        return std::vector<cv::Rect>{first, second + cv::Point(40, 0), third + cv::Point(20, 0)};
    };
    EXPECT_EQ(case_by_height("One", word(low, low, low), 29), "one");
    EXPECT_EQ(case_by_height("one", word(large, low, low), 29), "One");
    EXPECT_EQ(case_by_height("One", word(large, low, low), 29), "One");
    EXPECT_EQ(case_by_height("Che", word(low, low, large), 29), "che") << "h is as high as a large letter";
    EXPECT_EQ(case_by_height("Toe", word(low, low, low), 29), "Toe") << "t is another shape";
    EXPECT_EQ(case_by_height("USA", word(large, large, large), 29), "USA") << "nothing to measure against";
    EXPECT_EQ(case_by_height("One", {{0, 9, 50, 20}}, 29), "one") << "letters that touch";
    EXPECT_EQ(case_by_height("Who", {{0, 0, 50, 29}}, 29), "Who");
    EXPECT_EQ(case_by_height("One", {}, 29), "One");
    const cv::Rect between{0, 0, 16, 24};
    EXPECT_EQ(case_by_height("One", word(between, low, low), 29), "One");
    EXPECT_EQ(case_by_height("One", word(between, low, low), 29, true), "one") << "after a small word";
    EXPECT_EQ(case_by_height("One", word(large, low, low), 29, true), "One") << "a name";
    EXPECT_EQ(case_by_height("Wimbar", word({0, 0, 18, 26}, low, low), 26), "Wimbar")
        << "a face whose low letters are nearly as high as its large ones";
    EXPECT_EQ(case_by_height("Oshiko", word({0, 0, 18, 9}, low, low), 29), "Oshiko") << "an O in pieces";
}

TEST(LetterShapes, TheTallLettersOfALineAreMeasured) {
    const cv::Rect low{20, 9, 16, 20}, tall{0, 0, 16, 29};
    EXPECT_EQ(tall_height({{"ho", {tall, low}}, {"on", {low, low + cv::Point(20, 0)}}}, 40), 29);
    EXPECT_EQ(tall_height({{"on", {low, low + cv::Point(20, 0)}}}, 40), 40) << "it has none";
}

// Copies break thin strokes: a c or a C in two pieces; an i has two anyway.
TEST(LetterShapes, SmallLettersAreRecognisedInBrokenPrint) {
    const std::vector<cv::Rect> after_c{
        {20, 0, 4, 29}, {28, 9, 16, 20}, {48, 9, 14, 20}, {66, 9, 16, 20}, {86, 9, 14, 20}};
    const auto closes = [&](std::vector<cv::Rect> c) {
        c.insert(c.end(), after_c.begin(), after_c.end());
        return c;
    };
    const auto small = closes({{0, 9, 7, 20}, {8, 9, 9, 6}}), large = closes({{0, 0, 7, 29}, {8, 0, 9, 8}});
    EXPECT_EQ(case_by_height("Closes", small, 29), "closes");
    EXPECT_EQ(case_by_height("Closes", large, 29), "Closes");
    EXPECT_EQ(case_by_height("closes", large, 29), "closes") << "which pieces are the letter is a guess";
    const cv::Rect i{20, 9, 4, 20}, dot{20, 1, 4, 4}, n{30, 9, 16, 20};
    EXPECT_EQ(case_by_height("Sin", {{0, 9, 16, 20}, i, dot, n}, 29), "sin");
    EXPECT_EQ(case_by_height("Sin", {{0, 0, 18, 29}, i, dot, n}, 29), "Sin");
    EXPECT_EQ(case_by_height("We", {{0, 0, 12, 29}, {13, 4, 30, 25}}, 29), "We") << "an e as high as an l is none";
}

TEST(LetterShapes, ASentenceContinuesAfterASmallWordOrANumber) {
    const auto within = [](const std::vector<std::string>& words, const char* language) {
        TextLine line;
        for (const std::string& word : words) line.words.push_back({word, {0, 0, 40, 20}, 90});
        return is_within_sentence(line, words.size() - 1, language);
    };
    EXPECT_TRUE(within({"of", "the", "Is"}, "eng"));
    EXPECT_TRUE(within({"of", "240.50", "Is"}, "eng"));
    EXPECT_FALSE(within({"2.1", "Introduction"}, "eng")) << "a heading's number";
    EXPECT_FALSE(within({"in", "1998.", "Is"}, "eng"));
    EXPECT_FALSE(within({"Is"}, "eng"));
    EXPECT_TRUE(within({"of", "", "Is"}, "eng")) << "a rule that was read is not there";
    EXPECT_FALSE(within({"", "2.1", "", "Introduction"}, "eng"));
    EXPECT_FALSE(within({"", "Is"}, "eng"));
    EXPECT_FALSE(within({"der", "Weg"}, "deu")) << "nouns are large";
}

// At this resolution the S is between a capital and a small one.
TEST(LetterShapes, ANameThatIsNoWordKeepsItsCapital) {
    Reader reader;
    const HardPage page = hard_page(17, 4);
    const auto read = reader.read(page.scanned, {"eng"});
    ASSERT_TRUE(read) << read.error().sentence;
    EXPECT_TRUE(read->text().contains("Sunday")) << read->text();
}

TEST(LetterShapes, SimilarWordsAreAllKnownWordsOneConfusionAway) {
    WordList words({"eng"});
    const auto has = [&](const char* word, const char* other) {
        return std::ranges::count(confusable_words(word, words), other) == 1;
    };
    EXPECT_TRUE(has("tower", "lower"));
    EXPECT_TRUE(has("oi)", "oil"));
    EXPECT_TRUE(has("Who", "who"));
    EXPECT_FALSE(has("tower", "power")) << "t and p are not alike";
    EXPECT_EQ(confusable_words("bearn", words), (std::vector<std::string>{"beam"}));
    EXPECT_EQ(confusable_words("Quillfather", words), std::vector<std::string>());
}

// A typeset page with the true places of its words, and single words below it.
class PageLettersTest : public testing::Test {
  protected:
    const Look look_{.face = "Liberation Sans"};
    const double per_mm_ = look_.dpi / mm_per_inch;
    WordList words_{{"eng"}};
    TextLayer layer_;
    cv::Mat1b grey_;

    // The words of `single` are on the last line, in this order.
    void set(const std::vector<std::string>& single) {
        auto placed = set_words(look_, 11);
        std::erase_if(placed, [](const Placed& word) { return word.y > 85; });
        for (size_t i = 0; i < single.size(); ++i)
            placed.push_back({single[i], 15 + 25.0 * static_cast<double>(i), 95, 99});
        cv::Mat bytes;
        cv::Mat(draw(look_, placed) * 255).convertTo(bytes, CV_8U);
        cv::cvtColor(bytes, grey_, cv::COLOR_BGR2GRAY);
        Sheet measure(look_.dpi);
        measure.face(look_);
        int line = -1;
        for (const Placed& word : placed) {
            const cv::Point2d at(word.x * per_mm_, word.y * per_mm_);
            if (line != word.line) layer_.lines.push_back({{}, at, at + cv::Point2d(1, 0), 30, 9});
            line = word.line;
            const cv::Rect box(cv::Point2d(at.x, at.y - 30), cv::Size2d(measure.wide(word.text) * per_mm_, 39));
            layer_.lines.back().words.push_back({word.text, ink_in(box), 96});
        }
    }
    cv::Rect ink_in(const cv::Rect& box) const {
        const cv::Rect ink = cv::boundingRect(cv::Mat1b(grey_(box) < 128));
        return ink + box.tl();
    }
    Word& single(size_t i) { return layer_.lines.back().words[i]; }
    // Returns the result for a word that was read like this.
    std::string rather(size_t i, const std::string& read, double confidence) {
        const Word word{read, single(i).box, confidence};
        const bool known = words_.knows(read) != WordList::Known::No;
        const auto standing = known ? PageLetters::Standing::Known : PageLetters::Standing::Unknown;
        const PageLetters letters(layer_, grey_, words_);
        std::vector<PageLetters::Instead> others;
        for (const std::string& other : confusable_words(read, words_))
            others.push_back({other, *words_.log_share(other) - *words_.log_share(read)});
        const auto other = letters.rather(layer_.lines.back(), word, standing, others);
        return other ? other->text : "";
    }
};

TEST_F(PageLettersTest, TheInkDecidesBetweenTwoWords) {
    set({"lives", "fives", "oil", "lower"});
    EXPECT_EQ(rather(0, "fives", 80), "lives");
    EXPECT_EQ(rather(0, "fives", 99), "lives") << "however well a known one was read";
    EXPECT_EQ(rather(1, "fives", 40), "") << "it is there";
    EXPECT_EQ(rather(2, "ail", 70), "oil");
    EXPECT_EQ(rather(2, "oi)", 70), "oil") << "a mark that the page has nowhere";
    EXPECT_EQ(rather(2, "oil", 30), "");
    EXPECT_EQ(rather(3, "tower", 80), "lower");
    EXPECT_EQ(rather(3, "iower", 99), "lower") << "no word, however well read";
}

// An f without its bar, which the copier lost, and with no more of its hook than a t has.
TEST_F(PageLettersTest, WithoutClearInkTheMoreFrequentWordWins) {
    set({"for", "gilt"});
    const cv::Rect f(single(0).box.tl(), cv::Size(12, single(0).box.height));
    grey_(cv::Rect(f.x, f.y, f.width, f.height / 5)) = 255;
    EXPECT_EQ(rather(0, "tor", 99), "for");
    const cv::Rect t(single(1).box.br().x - 8, single(1).box.y, 10, single(1).box.height);
    EXPECT_EQ(rather(1, "gilt", 99), "") << "a rare word that is there";
    grey_(t) = 255;
    EXPECT_EQ(rather(1, "gilt", 99), "") << "and hardly";
}

// "rn" and "m" differ only by a gap, and the places of their letters touch: each pixel counts once.
TEST_F(PageLettersTest, TheInkDecidesBetweenTwoReadings) {
    set({"fern", "mimer", "lower", "Jever"});
    const auto which = [&](size_t i, const char* first, const char* second) {
        return PageLetters(layer_, grey_, words_).which(layer_.lines.back(), single(i), first, second);
    };
    EXPECT_EQ(which(0, "fern", "fem"), PageLetters::Ink::First);
    EXPECT_EQ(which(0, "fem", "fern"), PageLetters::Ink::Second);
    EXPECT_EQ(which(1, "mimer", "rniner"), PageLetters::Ink::First);
    EXPECT_EQ(which(1, "m\u00EFmer", "m\u00EFrner"), PageLetters::Ink::First) << "what was never seen is left out";
    EXPECT_EQ(which(2, "tower", "lower"), PageLetters::Ink::Second);
    EXPECT_EQ(which(3, "Jever", "lever"), PageLetters::Ink::CannotTell) << "no other J is on the page";
    EXPECT_EQ(which(3, "J", "l"), PageLetters::Ink::CannotTell);
    EXPECT_EQ(which(2, "", "lower"), PageLetters::Ink::CannotTell);
    EXPECT_EQ(rather(3, "Jever", 80), "") << "a hook is no part of an l";
    EXPECT_EQ(rather(2, "Jower", 90), "lower");
}

// A stroke beside the l, as from dirt on a copier's glass, and a hook that is worn away.
TEST_F(PageLettersTest, TheInkDecidesWithAddedOrLostInk) {
    set({"lower", "fives"});
    const cv::Rect l = single(0).box, f = single(1).box;
    grey_(cv::Rect(l.x + 3, l.y + 9, 5, 4)) = 0;
    EXPECT_EQ(rather(0, "tower", 80), "lower");
    grey_(cv::Rect(f.x + 9, f.y, 4, 4)) = 255;
    EXPECT_EQ(rather(1, "lives", 80), "fives");
}

TEST_F(PageLettersTest, APageWithoutWordsGivesNoLetters) {
    set({"lives"});
    const TextLine line = layer_.lines.back();
    layer_.lines.clear();
    const PageLetters none(layer_, grey_, words_);
    EXPECT_FALSE(none.rather(line, {"fives", line.words[0].box, 50}, PageLetters::Standing::Known, {{"lives"}}));
    layer_.lines = {line};
    const PageLetters few(layer_, grey_, words_);
    EXPECT_FALSE(few.rather(line, {"fives", line.words[0].box, 50}, PageLetters::Standing::Known, {{"lives"}}));
}

// Each has a far more common word that looks nearly the same, or is a name that is in no dictionary.
TEST(WornWords, RareWordsThatAreReadableStay) {
    const std::vector<std::string> sentences{"Mrs Weil climbed the tor above Comer Farm and heard his wails.",
                                             "The dud fuse, a foci table and a gilt frame were found by Jean Prat.",
                                             "A loam pit, sear marks, a deaf ewe and the fives court remain.",
                                             "Tor Oxhip, Ida Loll and Herr Vard sent the tenders to Ance Rie."};
    const Look look{.points = 11};
    Sheet measure(look.dpi);
    measure.face(look);
    std::vector<Placed> placed;
    for (size_t line = 0; line < sentences.size(); ++line) {
        std::istringstream words(sentences[line]);
        double x = 12;
        for (std::string word; words >> word; x += measure.wide(word + " "))
            placed.push_back({word, x, 20 + 8 * static_cast<double>(line), static_cast<int>(line)});
    }
    cv::Mat bytes;
    cv::Mat(draw(look, placed) * 255).convertTo(bytes, CV_8UC3);
    Reader reader;
    const auto read = reader.read({bytes, look.dpi, Ink::Colour}, {"eng"});
    ASSERT_TRUE(read) << read.error().sentence;
    std::istringstream in(read->text());
    const std::vector<std::string> words{std::istream_iterator<std::string>(in), {}};
    EXPECT_EQ(words, words_of(placed));
}

// Two words of a page that were read as one, because there is hardly a gap between them.
class PartedWordsTest : public testing::Test {
  protected:
    const Look look_{.face = "Liberation Sans"};
    const double per_mm_ = look_.dpi / mm_per_inch;
    WordList words_{{"eng"}};

    // Draws the two words after a third one at a distance of 1 mm, and divides them.
    std::string parted(const std::string& first, const std::string& second, double gap_mm, double confidence = 95) {
        Sheet measure(look_.dpi);
        measure.face(look_);
        const std::vector<Placed> placed{{first, 20, 50, 0}, {second, 20 + measure.wide(first) + gap_mm, 50, 0}};
        cv::Mat bytes, grey;
        cv::Mat(draw(look_, placed) * 255).convertTo(bytes, CV_8UC3);
        cv::cvtColor(bytes, grey, cv::COLOR_BGR2GRAY);
        const Word word{first + second, cv::boundingRect(cv::Mat1b(grey < 128)), confidence};
        TextLine line;
        const std::vector<Placed> before{{"around", 20 - 1 - measure.wide("around"), 50, 0}};
        cv::Mat with;
        cv::Mat(draw(look_, before) * 255).convertTo(bytes, CV_8UC3);
        cv::cvtColor(bytes, with, cv::COLOR_BGR2GRAY);
        line.words = {{"around", cv::boundingRect(cv::Mat1b(with < 128)), 96}, word};
        cv::min(grey, with, grey);
        const auto two = two_words_of(word, line, grey, words_);
        if (!two) return "";
        const double between = (placed[1].x - gap_mm / 2) * per_mm_;
        EXPECT_LT(two->first.box.br().x, two->second.box.x);
        EXPECT_NEAR(two->first.box.br().x, between, 0.4 * per_mm_);
        EXPECT_EQ(two->second.box.br(), word.box.br());
        return two->first.text + " " + two->second.text;
    }
};

TEST_F(PartedWordsTest, TwoFrequentWordsReadAsOneAreSplitAtTheirGap) {
    EXPECT_EQ(parted("letter", "of", 0.5), "letter of");
    EXPECT_EQ(parted("committee", "resolved,", 0.5), "committee resolved,");
    EXPECT_EQ(parted("letter", "of", 0.05), "") << "no gap like those between the line's words";
    EXPECT_EQ(parted("work", "tree", 0), "") << "a command";
    EXPECT_EQ(parted("letter", "of", 0.5, 99), "") << "surely read: a word that no dictionary has";
    EXPECT_EQ(parted("letter", "of", -0.25), "") << "closer than any other two letters";
    EXPECT_EQ(parted("Oak", "field", 0.5), "") << "a name";
    EXPECT_EQ(parted("towns", "folk", 0.5), "") << "known as it is";
    EXPECT_EQ(parted("bright", "qux", 0.5), "") << "a part that is no word";
}

TEST(LoneQuotes, ASpeckReadAsAQuoteIsRemovedAndARealQuoteStays) {
    const auto without = [](std::vector<Word> words) {
        TextLayer layer{{{std::move(words)}}};
        remove_lone_quotes(layer);
        return layer.text();
    };
    EXPECT_EQ(without({{"in", {}, 96}, {"\u2018the", {}, 80}, {"evening.", {}, 96}}), "in the evening.\n");
    EXPECT_EQ(without({{"\u201CShould", {}, 96}, {"the", {}, 96}}), "\u201CShould the\n") << "surely read";
    EXPECT_EQ(without({{"\u2018the", {}, 80}, {"inn\u2019", {}, 80}}), "\u2018the inn\u2019\n");
}

// Word counts in the format of Debian's onboard-data; the numbers of the first file are invented.
TEST(WordCounts, GiveTheFrequencyOfAWord) {
    const TempFolder folder;
    write_file(folder / "some.lm", "\n\\data\\\nngram 1=5\n\n\\1-grams:\n1 <unk>\n600 the\n300 for\n90 upon\n10 font\n"
                                   "\n\\2-grams:\n7 the lock\n\n\\end\\\n");
    const WordCounts counts(folder / "some.lm");
    EXPECT_NEAR(*counts.log_share("for"), std::log(0.3), 1e-9);
    EXPECT_NEAR(*counts.log_share("tor"), std::log(0.005), 1e-9) << "half of the rarest";
    EXPECT_NEAR(*counts.log_share("lock"), std::log(0.005), 1e-9) << "of two words";
    EXPECT_EQ(counts.near("fort", 9), (std::vector<std::string>{"for", "font"}));
    EXPECT_EQ(counts.near("fort", 1), (std::vector<std::string>{"for"}));
    EXPECT_FALSE(WordCounts(folder / "none.lm").log_share("for"));
    EXPECT_FALSE(WordCounts().log_share("for"));
    for (const char* content : {"", "\\1-grams:", "\\1-grams:\n\nthe\n12\n-3 a\nx y\n"}) {
        write_file(folder / "odd.lm", content);
        EXPECT_FALSE(WordCounts(folder / "odd.lm").log_share("the")) << content;
    }
}

TEST(WordCounts, ExistForTheLanguagesRead) {
    const auto more_usual = [](const char* language, const char* usual, const char* rare) {
        WordList words({language});
        return words.log_share(usual) && *words.log_share(usual) > *words.log_share(rare) + 5;
    };
    EXPECT_TRUE(more_usual("eng", "for", "tor"));
    EXPECT_TRUE(more_usual("eng", "The", "Toe")) << "a sentence's first word";
    EXPECT_TRUE(more_usual("eng", "\"walls.\"", "wails"));
    EXPECT_TRUE(more_usual("deu", "der", "dar"));
    EXPECT_TRUE(more_usual("fra", "dans", "dons"));
    EXPECT_TRUE(more_usual("pol", "jest", "gest"));
    WordList english({"eng"}), none({});
    const auto near = english.near("fandng,", 40);
    EXPECT_EQ(std::ranges::count(near, "landing,"), 1);
    EXPECT_FALSE(none.log_share("for"));
}

}
}
