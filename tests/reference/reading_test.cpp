// Hard pages, drawn with known words: they are read like clean ones, and never worse than by the engine alone.
#include "core/ocr/engine_page.h"
#include "core/ocr/letter_choices.h"
#include "core/ocr/reader.h"
#include "core/ocr/second_reading.h"
#include "core/raster/pix.h"
#include "core/text/check_digits.h"
#include "support/hard_pages.h"
#include "support/support.h"

#include <omp.h>
#include <tesseract/baseapi.h>

#include <map>
#include <sstream>

namespace yelvin::test {
namespace {

std::vector<std::string> words_in(const std::string& text) {
    std::istringstream in(text);
    return {std::istream_iterator<std::string>(in), {}};
}

// The reference: Tesseract on the same picture, as its command line reads it.
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

// The pages of the bench are among those that set the thresholds, so no word may be invented on them at all, and hardly
// any on the others.
TEST_P(HardPages, AreReadLikeCleanOnesAndNotWorseThanByTheEngineAlone) {
    constexpr unsigned bench = 1, others = 7;
    EngineAlone alone;
    Reader reader;
    WordCount engine;
    std::map<unsigned, WordCount> ours;
    int pages = 0;
    for (size_t kind = GetParam(); kind < hard_kinds(); kind += groups)
        for (const unsigned seed : {bench, others}) {
            const HardPage page = hard_page(kind, seed);
            const auto read = reader.read(page.scanned, {"eng"});
            ASSERT_TRUE(read) << read.error().sentence;
            const WordCount mine = count_words(page.words, words_in(read->text()));
            const WordCount theirs = count_words(page.words, alone.read(page.scanned));
            EXPECT_GE(mine.found, theirs.found - 1) << page.kind << ": the engine alone finds more";
            EXPECT_GE(mine.share(), 0.95) << page.kind << ": " << read->text();
            ours[seed] += mine;
            engine += theirs;
            ++pages;
        }
    EXPECT_GE(pages, 10);
    EXPECT_EQ(ours[bench].invented, 0) << "the clean pages have none";
    EXPECT_LE(ours[others].invented, ours[others].of / 150);
    for (const auto& [seed, words] : ours) {
        EXPECT_GE(words.share(), 0.993) << seed;
        EXPECT_LT(engine.share(), words.share()) << "these pages are not hard";
    }
}

size_t kind_of(const std::string& name) {
    for (size_t i = 0; i < hard_kinds(); ++i)
        if (hard_kind(i) == name) return i;
    ADD_FAILURE() << name;
    return 0;
}

// A line of squared paper runs through a line of type; the dark ground continues far beyond the last word; specks are
// where a word could be; two words have hardly a gap between them.
TEST(HardPage, NoLineIsLostAndEdgesGiveNoText) {
    Reader reader;
    for (const auto& [name, seed] : {std::pair{"squared paper", 9},
                                     {"white on dark", 5},
                                     {"white on dark", 8},
                                     {"photocopy, dark", 3},
                                     {"6 pt", 2}}) {
        const HardPage page = hard_page(kind_of(name), static_cast<unsigned>(seed));
        const auto read = reader.read(page.scanned, {"eng"});
        ASSERT_TRUE(read) << read.error().sentence;
        const WordCount count = count_words(page.words, words_in(read->text()));
        EXPECT_EQ(count.found, count.of) << name << seed << ": " << read->text();
        EXPECT_EQ(count.invented, 0) << name << seed << ": " << read->text();
    }
}

// The engine's own threshold, by which dark pixels are ink, or light ones on a dark page (Tesseract 5).
TEST(InkOfAPage, MatchesTheInkOfTheEngine) {
    tesseract::TessBaseAPI engine;
    ASSERT_EQ(engine.Init(nullptr, "eng"), 0);
    const auto differing = [&](const cv::Mat& grey) {
        const PixPtr page = to_pix({grey, 300, Ink::Grey});
        engine.SetImage(page.get());
        const PixPtr theirs{engine.GetThresholdedImage()}, ours = ink_of(page.get()),
                                                           differ{pixXor(nullptr, theirs.get(), ours.get())};
        l_int32 pixels = -1;
        pixCountPixels(differ.get(), &pixels, nullptr);
        return pixels;
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

// The last word of a paragraph is alone on its line; in coarse print the engine takes it for a speck.
TEST(CoarsePages, AWordAloneOnItsLineIsReadAlthoughTheEngineMissesIt) {
    const HardPage page = hard_page(39 % hard_kinds(), 939);
    Reader reader;
    const auto read = reader.read(at_resolution(page.scanned, 0.55 * page.scanned.dpi), {"eng"});
    ASSERT_TRUE(read) << read.error().sentence;
    const std::string text = read->text();
    const size_t before = text.find("stay on the"), at = text.find("lead."), after = text.find("The keeper");
    EXPECT_TRUE(before < at && at < after && after != std::string::npos) << text;
}

INSTANTIATE_TEST_SUITE_P(All, HardPages, testing::Range<size_t>(0, groups));

// Words that are certain stay as they are, names too.
TEST(SecondReading, TheMoreConfidentWordWinsAndNamesStay) {
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

// Examples of the standards: ISO 13616-1 (the German one of its registry), ISO/IEC 15420 (from memory).
TEST(CheckDigits, DecideBetweenReadings) {
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

TEST(LetterChoices, AKnownWordIsUsedIfTheEngineConsideredItsLetters) {
    WordList words({"eng"});
    const LetterChoices vour{{{"v", 88}, {"y", 37}}, {{"o", 92}}, {{"u", 95}}, {{"r", 90}}};
    const auto better = known_alternative({"vour", {0, 0, 40, 20}, 88}, vour, words);
    ASSERT_TRUE(better);
    EXPECT_EQ(better->text, "your");
    EXPECT_LT(better->confidence, 88);
    LetterChoices sure = vour;
    sure[0].pop_back();
    EXPECT_FALSE(known_alternative({"vour", {0, 0, 40, 20}, 88}, sure, words)) << "no letter is made up";
}

// A form: white print on a dark band, and entries between thin lines that are never quite level.
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

}
}
