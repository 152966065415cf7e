// Hard pages, drawn with known words, read as a person would wish: as the clean ones, and never worse than the engine
// by itself.
#include "core/raster/pix.h"
#include "core/reading/check_digits.h"
#include "core/reading/engine_page.h"
#include "core/reading/letter_choices.h"
#include "core/reading/letter_shapes.h"
#include "core/reading/page_letters.h"
#include "core/reading/reader.h"
#include "core/reading/second_reading.h"
#include "support/hard_pages.h"
#include "support/sheet.h"
#include "support/support.h"

#include <omp.h>
#include <tesseract/baseapi.h>

#include <sstream>

namespace yelvin::test {
namespace {

std::vector<std::string> words_in(const std::string& text) {
    std::istringstream in(text);
    return {std::istream_iterator<std::string>(in), {}};
}

// The reference: Tesseract on the same picture, as its own command line reads it.
class EngineAlone {
  public:
    EngineAlone() {
        omp_set_max_active_levels(0);
        engine_.SetVariable("debug_file", "/dev/null");
        EXPECT_EQ(engine_.Init(nullptr, "eng"), 0);
    }
    std::vector<std::string> read(const Raster& page) {
        const PixPtr pix = to_pix(page);
        engine_.SetImage(pix.get());
        engine_.SetSourceResolution(static_cast<int>(page.dpi));
        engine_.SetPageSegMode(tesseract::PSM_AUTO);
        const std::unique_ptr<char[]> text{engine_.GetUTF8Text()};
        return words_in(text ? text.get() : "");
    }

  private:
    tesseract::TessBaseAPI engine_;
};

constexpr size_t groups = 6; // so that they can run side by side

class HardPages : public testing::TestWithParam<size_t> {};

TEST_P(HardPages, AreReadLikeCleanOnesAndNeverWorseThanByTheEngineAlone) {
    EngineAlone alone;
    Reader reader;
    WordCount ours, engine;
    int pages = 0;
    for (size_t kind = GetParam(); kind < hard_kinds(); kind += groups) {
        const HardPage page = hard_page(kind, 7);
        const auto read = reader.read(page.scanned, {"eng"});
        ASSERT_TRUE(read) << read.error().sentence;
        const WordCount mine = count_words(page.words, words_in(read->text()));
        const WordCount theirs = count_words(page.words, alone.read(page.scanned));
        EXPECT_GE(mine.found, theirs.found - 1) << page.kind << ": the engine alone finds more";
        EXPECT_GE(mine.share(), 0.95) << page.kind << ": " << read->text();
        ours += mine;
        engine += theirs;
        ++pages;
    }
    EXPECT_GE(pages, 5);
    EXPECT_GE(ours.share(), 0.985);
    EXPECT_LE(ours.invented, ours.of / 150);
    EXPECT_LT(engine.share(), ours.share()) << "these pages are not hard";
}

// The engine's own threshold, by which it takes what is dark for ink, or what is light on a dark page (Tesseract 5).
TEST(InkOfAPage, IsWhatTheEngineTakesForInkByItself) {
    tesseract::TessBaseAPI engine;
    ASSERT_EQ(engine.Init(nullptr, "eng"), 0);
    const auto differing = [&](const cv::Mat& grey) {
        const PixPtr page = to_pix({grey, 300, Ink::Grey});
        engine.SetImage(page.get());
        const PixPtr theirs{engine.GetThresholdedImage()}, ours = ink_of(page.get()),
                                                           differ{pixXor(nullptr, theirs.get(), ours.get())};
        l_int32 dots = -1;
        pixCountPixels(differ.get(), &dots, nullptr);
        return dots;
    };
    for (size_t kind = 0; kind < hard_kinds(); kind += 3)
        EXPECT_EQ(differing(grey_pixels(hard_page(kind, 7).scanned)), 0) << hard_kind(kind);
    cv::Mat half(300, 400, CV_8U, cv::Scalar(200));
    for (const int level : {0, 100, 255}) EXPECT_EQ(differing(half * 0 + level), 0) << "all " << level;
    half.rowRange(0, 150) = 30;
    EXPECT_EQ(differing(half), 0);
    half.row(150) = 30; // the light is ink now
    EXPECT_EQ(differing(half), 0);
}

// The last word of a paragraph stands alone on its line; where the print is coarse the engine takes it for a speck.
TEST(CoarsePages, AWordAloneOnItsLineIsReadWhereTheEnginePassesItOver) {
    const HardPage page = hard_page(39 % hard_kinds(), 939);
    Reader reader;
    const auto read = reader.read(at_resolution(page.scanned, 0.55 * page.scanned.dpi), {"eng"});
    ASSERT_TRUE(read) << read.error().sentence;
    const std::string text = read->text();
    const size_t before = text.find("stay on the"), at = text.find("lead."), after = text.find("The keeper");
    EXPECT_TRUE(before < at && at < after && after != std::string::npos) << text;
}

INSTANTIATE_TEST_SUITE_P(All, HardPages, testing::Range<size_t>(0, groups));

// Words that nobody would call doubtful stay, names too.
TEST(SecondReading, TheSurerWordWinsAndNamesStay) {
    WordList words({"eng"});
    ASSERT_EQ(words.knows("mooring,"), WordList::Known::Yes) << "no dictionary is installed";
    EXPECT_EQ(words.knows("m00ring"), WordList::Known::CannotTell);
    EXPECT_EQ(words.knows("moorlng"), WordList::Known::No);
    EXPECT_EQ(words.knows("lock-keeper's"), WordList::Known::Yes);
    const auto line = [](std::vector<Word> read) { return TextLine{std::move(read), {0, 30}, {400, 30}, 20, 5}; };
    const Word the{"The", {0, 10, 50, 20}, 96}, name{"Quillfeather", {60, 10, 150, 20}, 96};
    const TextLine first = line({the, name, {"moorlng", {220, 10, 100, 25}, 88}});
    EXPECT_FALSE(is_doubtful(name, words));
    EXPECT_TRUE(is_doubtful(first.words.back(), words));
    const TextLine again = line({the, {"Quill", {60, 10, 60, 20}, 70}, {"mooring", {220, 10, 100, 25}, 86}});
    const TextLine best = surest(first, {again}, words);
    ASSERT_EQ(best.words.size(), 3U);
    EXPECT_EQ(best.words[1].text, "Quillfeather") << "a reading that passes over ink counts for less";
    EXPECT_EQ(best.words[2].text, "mooring");
}

// The standards' own examples: ISO 13616-1 (the German one of its registry), ISO/IEC 15420 (from memory).
TEST(CheckDigits, SayWhichReadingIsRight) {
    EXPECT_EQ(check_digits("DE89 3704 0044 0532 0130 00"), CheckDigits::Right);
    EXPECT_EQ(check_digits("DE89 3704 0044 0532 0180 00"), CheckDigits::Wrong);
    EXPECT_EQ(check_digits("5901234123457"), CheckDigits::Right);
    EXPECT_EQ(check_digits("5901284123457"), CheckDigits::Wrong);
    EXPECT_EQ(check_digits("2026"), CheckDigits::None);
    EXPECT_EQ(check_digits("Quillfeather 14"), CheckDigits::None);
    const auto line = [](const std::vector<const char*>& groups, double confidence) {
        TextLine out{{}, {0, 30}, {400, 30}, 20, 5};
        for (const char* group : groups)
            out.words.push_back({group, {static_cast<int>(out.words.size()) * 70, 10, 60, 20}, confidence});
        return out;
    };
    WordList words({"eng"});
    const TextLine wrong = line({"IBAN", "DE89", "3704", "0044", "0582", "0130", "00"}, 97);
    EXPECT_GT(doubtful_px(wrong, words), 300) << "read surely, and yet wrong";
    const TextLine best = surest(wrong, {line({"IBAN", "DE89", "3704", "0044", "0532", "0130", "00"}, 80)}, words);
    EXPECT_EQ(best.words[4].text, "0532");
    EXPECT_EQ(best.words.size(), 7U);
    EXPECT_EQ(doubtful_px(best, words), 0);
}

TEST(LetterChoices, AWordIsTakenThatTheLanguageHasWhereTheEngineSeesItsLetters) {
    WordList words({"eng"});
    const LetterChoices vour{{{"v", 88}, {"y", 37}}, {{"o", 92}}, {{"u", 95}}, {{"r", 90}}};
    const auto better = known_instead({"vour", {0, 0, 40, 20}, 88}, vour, words);
    ASSERT_TRUE(better);
    EXPECT_EQ(better->text, "your");
    EXPECT_LT(better->confidence, 88);
    LetterChoices sure = vour;
    sure[0].pop_back();
    EXPECT_FALSE(known_instead({"vour", {0, 0, 40, 20}, 88}, sure, words)) << "no letter is made up";
}

// A form: white on a dark band, what is filled in between thin lines that are never quite level.
TEST(Forms, AreReadWithoutTheirLines) {
    Reader reader;
    std::vector<std::string> truth;
    for (const PrintedWord& word : words_of_original("towpath-form")) truth.push_back(word.text);
    ASSERT_GT(truth.size(), 40U);
    WordCount all;
    for (const double angle : {0.0, 0.3, -0.6}) {
        const auto read = reader.read(scan("towpath-form", angle, 300, Ink::Colour), {"eng"});
        ASSERT_TRUE(read) << read.error().sentence;
        const WordCount count = count_words(truth, words_in(read->text()));
        EXPECT_GE(count.share(), 0.93) << angle << ": " << read->text();
        EXPECT_LE(count.invented, 6) << angle << ": " << read->text();
        all += count;
    }
    std::cout << all.found << " of " << all.of << " words, " << all.invented << " invented\n";
}

// Heights in dots: a low letter 20, a large one 29.
TEST(LetterShapes, SmallAndLargeAreToldByHeightWhereTheyLookAlike) {
    const cv::Rect low{0, 9, 16, 20}, large{0, 0, 18, 29};
    const auto word = [](cv::Rect first, cv::Rect second, cv::Rect third) {
        return std::vector<cv::Rect>{first, second + cv::Point(40, 0), third + cv::Point(20, 0)};
    };
    EXPECT_EQ(case_by_height("One", word(low, low, low), 29), "one");
    EXPECT_EQ(case_by_height("one", word(large, low, low), 29), "One");
    EXPECT_EQ(case_by_height("One", word(large, low, low), 29), "One");
    EXPECT_EQ(case_by_height("Che", word(low, large, low), 29), "che") << "h is as high as a large letter";
    EXPECT_EQ(case_by_height("Toe", word(low, low, low), 29), "Toe") << "t is another shape";
    EXPECT_EQ(case_by_height("USA", word(large, large, large), 29), "USA") << "nothing to measure against";
    EXPECT_EQ(case_by_height("One", {{0, 9, 50, 20}}, 29), "one") << "letters that touch";
    EXPECT_EQ(case_by_height("Who", {{0, 0, 50, 29}}, 29), "Who");
    EXPECT_EQ(case_by_height("One", {}, 29), "One");
    const cv::Rect between{0, 0, 16, 24};
    EXPECT_EQ(case_by_height("One", word(between, low, low), 29), "One");
    EXPECT_EQ(case_by_height("One", word(between, low, low), 29, true), "one") << "after a small word";
    EXPECT_EQ(case_by_height("One", word(large, low, low), 29, true), "One") << "a name";
}

// Copies break thin strokes: a c in two pieces, or a C; an i is in two anyway.
TEST(LetterShapes, SmallIsToldWhereLettersAreInPieces) {
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

TEST(LetterShapes, ASentenceGoesOnAfterASmallWordOrANumber) {
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

// Its S is between a large and a small one at this resolution.
TEST(LetterShapes, ANameThatNoSmallWordIsStaysLarge) {
    Reader reader;
    const HardPage page = hard_page(17, 4);
    const auto read = reader.read(page.scanned, {"eng"});
    ASSERT_TRUE(read) << read.error().sentence;
    EXPECT_TRUE(read->text().contains("Sunday")) << read->text();
}

TEST(LetterShapes, AWornWordIsTheOnlyKnownOneThatLooksLikeIt) {
    WordList words({"eng"});
    const auto shaped = [&](const char* text, double confidence) {
        const auto found = known_by_shape({text, {0, 0, 40, 20}, confidence}, words);
        return found ? found->text : "";
    };
    EXPECT_EQ(shaped("Jetter", 80), "letter");
    EXPECT_EQ(shaped("downstreani.", 70), "downstream.");
    EXPECT_EQ(shaped("meires", 60), "metres");
    EXPECT_EQ(shaped("flighi,", 90), "flight,");
    EXPECT_EQ(shaped("flighi,", 96), "") << "a word that no dictionary has";
    EXPECT_EQ(shaped("jonger", 90), "longer");
    EXPECT_EQ(shaped("parafiin", 91), "paraffin");
    EXPECT_EQ(shaped("Jetter", 97), "") << "a name that is there to be read";
    EXPECT_EQ(shaped("letter", 60), "") << "known as it is";
    EXPECT_EQ(shaped("Quillfather", 60), "");
    EXPECT_EQ(shaped("J4tter", 60), "") << "codes keep their characters";
    const auto doubtful = known_by_shape({"Jetter", {0, 0, 40, 20}, 90}, words);
    ASSERT_TRUE(doubtful);
    EXPECT_LE(doubtful->confidence, 60);
}

TEST(LetterShapes, AlikeAreAllKnownWordsOneConfusionAway) {
    WordList words({"eng"});
    const auto has = [&](const char* word, const char* other) {
        return std::ranges::count(words_alike(word, words), other) == 1;
    };
    EXPECT_TRUE(has("tower", "lower"));
    EXPECT_TRUE(has("oi)", "oil"));
    EXPECT_TRUE(has("Who", "who"));
    EXPECT_FALSE(has("tower", "power")) << "t and p are not alike";
    EXPECT_EQ(words_alike("bearn", words), (std::vector<std::string>{"beam"}));
    EXPECT_EQ(words_alike("Quillfather", words), std::vector<std::string>());
}

// A page as it is set, with its words' true places, and single ones below it.
class PageLettersTest : public testing::Test {
  protected:
    const Look look_{.face = "Liberation Sans"};
    const double per_mm_ = look_.dpi / mm_per_inch;
    WordList words_{{"eng"}};
    TextLayer layer_;
    cv::Mat1b grey_;

    // `single` stand in the last line, in this order.
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
    // What it is said to be where it was read so.
    std::string rather(size_t i, const std::string& read, double confidence) {
        const Word word{read, single(i).box, confidence};
        const bool known = words_.knows(read) != WordList::Known::No;
        const PageLetters letters(layer_, grey_, words_);
        const auto other = letters.rather(layer_.lines.back(), word, known, words_alike(read, words_));
        return other ? other->text : "";
    }
};

TEST_F(PageLettersTest, TellWhichOfTwoWordsTheInkIs) {
    set({"lives", "fives", "oil", "lower"});
    EXPECT_EQ(rather(0, "fives", 80), "lives");
    EXPECT_EQ(rather(0, "fives", 92), "") << "a known word, well read";
    EXPECT_EQ(rather(1, "fives", 40), "") << "it is there";
    EXPECT_EQ(rather(2, "ail", 70), "oil");
    EXPECT_EQ(rather(2, "oi)", 70), "oil") << "a mark that the page has nowhere";
    EXPECT_EQ(rather(2, "oil", 30), "");
    EXPECT_EQ(rather(3, "tower", 80), "lower");
    EXPECT_EQ(rather(3, "iower", 99), "lower") << "no word, however well read";
}

// A stroke beside the l, as dirt on a copier's glass adds one, and a hook that is worn away.
TEST_F(PageLettersTest, WhereInkWasAddedOrLostToo) {
    set({"lower", "fives"});
    const cv::Rect l = single(0).box, f = single(1).box;
    grey_(cv::Rect(l.x + 3, l.y + 9, 5, 4)) = 0;
    EXPECT_EQ(rather(0, "tower", 80), "lower");
    grey_(cv::Rect(f.x + 9, f.y, 4, 4)) = 255;
    EXPECT_EQ(rather(1, "lives", 80), "fives");
}

TEST_F(PageLettersTest, APageWithoutWordsSaysNothing) {
    set({"lives"});
    const TextLine line = layer_.lines.back();
    layer_.lines.clear();
    const PageLetters none(layer_, grey_, words_);
    EXPECT_FALSE(none.rather(line, {"fives", line.words[0].box, 50}, true, {"lives"}));
    layer_.lines = {line};
    const PageLetters few(layer_, grey_, words_);
    EXPECT_FALSE(few.rather(line, {"fives", line.words[0].box, 50}, true, {"lives"}));
}

}
}
