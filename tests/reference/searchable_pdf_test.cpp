// The main job compared with the truth: a lease lies straight, crooked or upside down on the glass and is scanned in
// each colour mode, and the words of the PDF are where the original has them. Truth and result are both read by
// poppler's pdftotext.
#include "core/developing/develop.h"
#include "core/ocr/reader.h"
#include "core/output/document_writer.h"
#include "core/seeing/notice.h"
#include "core/text/carried_words.h"
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/support.h"

#include <cmath>

namespace yelvin::test {
namespace {

struct Case {
    const char* name;
    double angle;
    Ink ink;
};

MadeFile saved_as_pdf(const Raster& original, const std::filesystem::path& folder) {
    ReaderPool readers;
    SaveJob job;
    job.page_count = 1;
    job.folder = folder;
    job.fixed_name = "page";
    job.page = [&](size_t) -> Result<std::optional<FinishedPage>> {
        const Notices notices = noticed(original, job.ticket, readers);
        return std::optional(FinishedPage{develop(original, recipe_for(notices, original, job.ticket)), std::nullopt});
    };
    const auto made = save_document(job, readers, {});
    EXPECT_TRUE(made) << (made ? "" : made.error().sentence);
    return made ? made->front() : MadeFile{};
}

class SearchablePdf : public testing::TestWithParam<Case> {};

TEST_P(SearchablePdf, HasTheOriginalsWordsWhereTheOriginalHasThem) {
    const TempFolder folder;
    const MadeFile pdf = saved_as_pdf(scan("lease-1", GetParam().angle, 300, GetParam().ink), folder.path());

    const Ran check = run({"qpdf", "--check", pdf.path.string()});
    EXPECT_EQ(check.status, 0) << check.out << check.err;
    EXPECT_EQ(check.out.find("WARNING"), std::string::npos) << check.out;

    const auto truth = words_of_original("lease-1"), found = words_of_pdf(pdf.path);
    const auto pairs = common_in_order(truth, found);
    ASSERT_GT(truth.size(), 200U);
    EXPECT_GE(static_cast<double>(pairs.size()), 0.98 * static_cast<double>(truth.size()));
    double worst = 0, sum = 0;
    for (const auto& [t, f] : pairs) {
        const RectMm a = truth[t].box, b = found[f].box;
        const double off = std::max({std::abs(a.x - b.x), std::abs(a.x + a.width - b.x - b.width),
                                     std::abs(a.y + a.height / 2 - b.y - b.height / 2)});
        EXPECT_LT(off, 0.7) << truth[t].text << " at " << a.x << ", " << a.y << " found at " << b.x << ", " << b.y;
        worst = std::max(worst, off);
        sum += off;
    }
    RecordProperty("worst_mm", std::to_string(worst));
    std::cout << pairs.size() << " of " << truth.size() << " words; off by " << sum / static_cast<double>(pairs.size())
              << " mm on average, " << worst << " mm at most\n";

    const Ran info = run({"pdfinfo", pdf.path.string()});
    double width = 0, height = 0;
    const size_t at = info.out.find("Page size:");
    ASSERT_NE(at, std::string::npos);
    ASSERT_EQ(std::sscanf(info.out.c_str() + at, "Page size: %lf x %lf", &width, &height), 2);
    EXPECT_NEAR(width * mm_per_inch / points_per_inch, 210, 0.2);
    EXPECT_NEAR(height * mm_per_inch / points_per_inch, 297, 0.2);

    const Ran images = run({"pdfimages", "-list", pdf.path.string()});
    EXPECT_NE(images.out.find(GetParam().ink == Ink::Black ? "jbig2" : "jpeg"), std::string::npos) << images.out;
    EXPECT_NE(images.out.find("300   300"), std::string::npos) << images.out;
}

INSTANTIATE_TEST_SUITE_P(EveryWayOfLyingAndInk, SearchablePdf,
                         testing::Values(Case{"straight_colour", 0, Ink::Colour}, Case{"straight_grey", 0, Ink::Grey},
                                         Case{"straight_black", 0, Ink::Black}, Case{"tilted_colour", 3, Ink::Colour},
                                         Case{"tilted_grey", 3, Ink::Grey}, Case{"tilted_black", 3, Ink::Black},
                                         Case{"over_colour", 180, Ink::Colour}, Case{"over_grey", 180, Ink::Grey},
                                         Case{"over_black", 180, Ink::Black}),
                         [](const auto& info) { return std::string(info.param.name); });

// The page is turned after it was read: the words follow.
TEST(SearchablePdfText, IsTurnedWithItsPage) {
    const TempFolder folder;
    const Raster original = scan("lease-1", 0, 200, Ink::Grey);
    Reader reader;
    const auto read = reader.read(original, {"eng"});
    ASSERT_TRUE(read);
    const auto truth = words_of_original("lease-1");
    for (const int turn : {90, 180, 270}) {
        const Recipe turned{turn};
        const SizePx size{original.width_px(), original.height_px()};
        ASSERT_TRUE(words_stay(read_as({}, *read), turned, size, original.dpi));
        const auto file = folder / ("turned" + std::to_string(turn) + ".pdf");
        const auto writer = new_document_writer(file, Format::Pdf, {"turned"});
        auto page = encode_page(develop(original, turned), carried_words(*read, {}, turned, size, original.dpi),
                                Format::Pdf, 80);
        ASSERT_TRUE(writer->append(std::move(*page)));
        ASSERT_TRUE(writer->finish());
        // Poppler gives the places on the rotated page; each word is found once, near where it is printed.
        const auto found = words_of_pdf(file);
        EXPECT_GE(static_cast<double>(found.size()), 0.97 * static_cast<double>(truth.size())) << turn;
        size_t there = 0;
        for (const PrintedWord& word : truth) {
            const double x = word.box.x + word.box.width / 2, y = word.box.y + word.box.height / 2;
            const double at_x = turn == 90 ? 297 - y : turn == 180 ? 210 - x : y;
            const double at_y = turn == 90 ? x : turn == 180 ? 297 - y : 210 - x;
            there += std::ranges::any_of(found, [&](const PrintedWord& f) {
                return f.text == word.text && std::abs(f.box.x + f.box.width / 2 - at_x) < 0.7 &&
                       std::abs(f.box.y + f.box.height / 2 - at_y) < 0.7;
            });
        }
        EXPECT_GE(static_cast<double>(there), 0.97 * static_cast<double>(truth.size())) << turn;
    }
}

// Several scripts in one document: each character is found again, whatever its Unicode plane.
TEST(SearchablePdfText, HoldsAnyScript) {
    const TempFolder folder;
    const auto writer = new_document_writer(folder / "scripts.pdf", Format::Pdf, {"Ωmega \"quoted\" (titled)"});
    TextLayer text{{}, 1000, 1000};
    const std::vector<std::string> words{"naïve", "Ünlü", "шлюз", "κανάλι", "運河", "水門", "🚢"};
    int y = 100;
    for (const std::string& word : words) {
        text.lines.push_back({{{word, {100, y - 40, 300, 40}, 90}},
                              {100.0, static_cast<double>(y)},
                              {400.0, static_cast<double>(y)},
                              40,
                              10});
        y += 100;
    }
    const Raster page{cv::Mat(1000, 1000, CV_8UC1, cv::Scalar(255)), 100, Ink::Grey};
    ASSERT_TRUE(writer->append(*encode_page(page, text, Format::Pdf, 80)));
    ASSERT_TRUE(writer->finish());
    EXPECT_EQ(run({"qpdf", "--check", (folder / "scripts.pdf").string()}).status, 0);
    const auto found = words_of_pdf(folder / "scripts.pdf");
    ASSERT_EQ(found.size(), words.size());
    for (size_t i = 0; i < words.size(); ++i) EXPECT_EQ(found[i].text, words[i]);
    const Ran info = run({"pdfinfo", "-enc", "UTF-8", (folder / "scripts.pdf").string()});
    EXPECT_NE(info.out.find("Ωmega \"quoted\" (titled)"), std::string::npos) << info.out;
    const Ran fonts = run({"pdffonts", (folder / "scripts.pdf").string()});
    EXPECT_NE(fonts.out.find("yes no  yes"), std::string::npos) << "embedded, not a subset, with a map to Unicode:\n"
                                                                << fonts.out;
}

}
}
