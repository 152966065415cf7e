// Words that are in no dictionary stay as they were read: surnames, places, terms and commands, on clean and on hard
// pages.
#include "core/ocr/engine_page.h"
#include "core/ocr/ocr_copy.h"
#include "core/ocr/reader.h"
#include "support/rare_words.h"
#include "support/support.h"
#include "support/trials.h"

#include <fmt/format.h>
#include <omp.h>
#include <tesseract/baseapi.h>

namespace yelvin::test {
namespace {

// The engine's own result for the copy that was made for OCR, with the places of its words on the page.
TextLayer read_alone(tesseract::TessBaseAPI& engine, const Raster& page) {
    const OcrCopy copy = copy_for_ocr(page);
    const bool black = page.ink == Ink::Black && copy.scale == 1;
    engine.SetPageSegMode(tesseract::PSM_AUTO);
    set_page(engine, {copy.grey, copy.dpi, black ? Ink::Black : Ink::Grey});
    engine.Recognize(nullptr);
    const std::unique_ptr<tesseract::ResultIterator> at{engine.GetIterator()};
    TextLine line;
    do {
        const std::unique_ptr<char[]> text{at->GetUTF8Text(tesseract::RIL_WORD)};
        int left = 0, top = 0, right = 0, bottom = 0;
        if (!text || !at->BoundingBox(tesseract::RIL_WORD, &left, &top, &right, &bottom)) continue;
        const auto on_page = [&](int x, int y) { return cv::Point(cv::Point2d(x / copy.scale, y / copy.scale)); };
        line.words.push_back(
            {text.get(), {on_page(left, top), on_page(right, bottom)}, at->Confidence(tesseract::RIL_WORD)});
    } while (at->Next(tesseract::RIL_WORD));
    engine.Clear();
    return {{std::move(line)}};
}

// The thresholds were set on one half of the words (every other one from the first); these are the other half. By hand
// with YELVIN_TRIALS=152: 10,000 words that were read correctly.
TEST(RareWords, StayAsTheyWereRead) {
    omp_set_max_active_levels(0);
    const auto pages = static_cast<unsigned>(trials(6));
    Reader reader;
    tesseract::TessBaseAPI engine;
    ASSERT_EQ(engine.Init(nullptr, "eng"), 0);
    engine.SetVariable("debug_file", "/dev/null");
    RareCount all;
    for (unsigned number = 0; number < pages; ++number) {
        const RarePage page = rare_page(number, 1, 2);
        const auto last = reader.read(page.scanned, {"eng"});
        ASSERT_TRUE(last) << last.error().sentence;
        all.add(page.placed, read_alone(engine, page.scanned), *last, page.scanned.dpi);
    }
    std::string changed;
    for (const Changed& word : all.changed)
        changed += fmt::format(" {} became {} ({:.0f})", word.printed, word.read, word.confidence);
    EXPECT_GE(all.correct, 55 * static_cast<int>(pages)) << "there is something to judge";
    EXPECT_LE(all.changed.size(), static_cast<size_t>(all.correct) * 2 / 10000) << changed;
    RecordProperty("correct", all.correct);
    RecordProperty("mended", all.mended);
}

}
}
