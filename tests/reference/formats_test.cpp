// Everything that can be made of a document, opened by programs that are not ours: python-docx, odfpy, an HTML 5
// parser, epubcheck, ImageMagick, exiftool; the CSV's rules are those of RFC 4180. The truth is a document drawn with
// known words, and demo papers that were read.
#include "core/output/flow.h"
#include "core/raster/image_file.h"
#include "jobs/save_job.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <fmt/format.h>

#include <sstream>

namespace yelvin::test {
namespace {

constexpr double dpi = 150;
using Rows = std::vector<std::vector<std::string>>;

// An A4 page whose words are bars of ink where they stand.
class Drawn {
  public:
    Raster page{cv::Mat(1754, 1240, CV_8UC1, cv::Scalar(250)), dpi, Ink::Grey};
    TextLayer text{{}, 1240, 1754, "eng"};

    // `tall` px of letters; words with `gap` between them, or at the given places.
    Drawn& line(int x, int y, const std::string& words, int tall = 20, bool bold = false, std::vector<int> at = {}) {
        TextLine out{{}, {double(x), double(y)}, {}, double(tall), tall * 0.3, "eng"};
        std::istringstream in(words);
        size_t i = 0;
        for (std::string word; in >> word; ++i) {
            if (i < at.size()) x = at[i];
            const int width = static_cast<int>(word.size()) * tall * 6 / 10;
            out.words.push_back({word, {x, y - tall, width, tall}, 95, bold});
            cv::rectangle(page.pixels, out.words.back().box, 40, cv::FILLED);
            x += width + tall / 2;
        }
        out.baseline_end = {double(x), double(y)};
        text.lines.push_back(out);
        return *this;
    }
};

// A heading of each size, paragraphs with a word in bold and a parted one, a list, a table, a picture; a second page,
// lying.
std::vector<Drawn> document() {
    Drawn first;
    first.line(150, 150, "Rules of the basin", 40, true);
    first.line(150, 240, "The keeper opens at eight in the morn-");
    first.line(150, 270, "ing & closes at dusk, all the \"year\".");
    first.line(150, 350, "Mooring <and> fees", 26, true);
    first.line(150, 420, "1. Pay the toll before you pass.").line(150, 455, "2. Shut the gates behind you.");
    const std::vector<int> columns{150, 500, 800};
    first.line(150, 560, "Boats 3 24.00", 20, false, columns).line(150, 600, "Dinghies 12 4.50", 20, false, columns);
    first.line(150, 640, "Rafts 1 ,5\"", 20, false, columns);
    first.line(150, 1500, "Thank you for reading all of it.");
    const cv::Mat photo = noisy(354, 236, CV_8UC1, 5) * 0.4; // 60 x 40 mm at 30, 150
    photo.copyTo(first.page.pixels(cv::Rect(177, 886, 354, 236)));
    Drawn second;
    second.page.pixels = cv::Mat(1240, 1754, CV_8UC1, cv::Scalar(250));
    second.text.width_px = 1754, second.text.height_px = 1240;
    second.line(200, 200, "Page two, lying on its side.");
    return {first, second};
}

// The words as running text has them.
std::vector<std::string> words_of(const std::vector<Drawn>& pages) {
    std::vector<std::string> words;
    for (const Drawn& page : pages) {
        std::istringstream in(running_text(page.text));
        for (std::string word; in >> word;) words.push_back(word);
    }
    return words;
}

Result<std::vector<MadeFile>> made(const std::vector<Drawn>& pages, const std::filesystem::path& folder, Format format,
                                   Per per = Per::Document, bool lines = false) {
    ReaderPool readers;
    SaveJob job;
    job.page_count = pages.size();
    job.folder = folder;
    job.fixed_name = "Rules";
    job.ticket.make = {format, per, 85, lines};
    job.page = [&](size_t index) { return std::optional(FinishedPage{pages[index].page, pages[index].text}); };
    return save_document(job, readers, {});
}

nlohmann::json read_by_others(Format format, const std::filesystem::path& file) {
    const Ran ran = run({"/usr/bin/python3", YELVIN_OTHERS, std::string(format_key(format)), file.string()});
    EXPECT_EQ(ran.status, 0) << format_key(format) << ": " << ran.err;
    return nlohmann::json::parse(ran.status == 0 ? ran.out : R"({"words": [], "tables": [], "headings": []})");
}

TEST(Formats, TheWordsAreTheReadingsInOrderAndWhatTheyAreIsKept) {
    const TempFolder folder;
    const auto pages = document();
    const auto words = words_of(pages);
    const Rows table{{"Boats", "3", "24.00"}, {"Dinghies", "12", "4.50"}, {"Rafts", "1", ",5\""}};
    for (const Format format : {Format::Docx, Format::Odt, Format::Html, Format::Epub, Format::Hocr, Format::Alto}) {
        SCOPED_TRACE(format_key(format));
        const auto files = made(pages, folder.path(), format);
        ASSERT_TRUE(files) << files.error().sentence;
        ASSERT_EQ(files->size(), 1U);
        const auto found = read_by_others(format, files->front().path);
        auto expected = words;
        if (format == Format::Hocr) { // lines as they are printed
            expected.clear();
            for (const Drawn& page : pages)
                for (const TextLine& line : page.text.lines)
                    for (const Word& word : line.words) expected.push_back(word.text);
        }
        EXPECT_EQ(found["words"].get<std::vector<std::string>>(), expected);
        if (format == Format::Hocr || format == Format::Alto) {
            const bool corners = format == Format::Hocr;
            EXPECT_EQ(found["boxes"][0], nlohmann::json({150, 110, corners ? 270 : 120, corners ? 150 : 40}));
            continue;
        }
        EXPECT_EQ(found["headings"], nlohmann::json({{1, "Rules of the basin"}, {2, "Mooring <and> fees"}}));
        EXPECT_EQ(found["tables"], nlohmann::json({table}));
        EXPECT_EQ(found["lists"].size(), 2U);
        ASSERT_EQ(found["pictures"].size(), 1U);
        EXPECT_NEAR(found["pictures"][0][0].get<double>(), 60, 1);
        EXPECT_NEAR(found["pictures"][0][1].get<double>(), 40, 1);
        if (format != Format::Docx) continue;
        ASSERT_EQ(found["pages"].size(), 2U);
        EXPECT_NEAR(found["pages"][0][0].get<double>(), 210, 0.2);
        EXPECT_NEAR(found["pages"][1][0].get<double>(), 297, 0.2);
    }
}

TEST(Formats, TextHasParagraphsOrLinesAndCsvTheTablesAlone) {
    const TempFolder folder;
    const auto pages = document();
    const auto text = made(pages, folder.path(), Format::Text),
               lines = made(pages, folder.path(), Format::Text, Per::Document, true),
               csv = made(pages, folder.path(), Format::Csv);
    ASSERT_TRUE(text && lines && csv);
    EXPECT_TRUE(read_file(text->front().path)
                    .starts_with("Rules of the basin\n\nThe keeper opens at eight in the morning & closes at dusk, all "
                                 "the \"year\".\n\nMooring <and> fees\n\n1. Pay the toll before you pass.\n2. Shut"));
    EXPECT_TRUE(read_file(text->front().path).ends_with("all of it.\n\nPage two, lying on its side.\n"));
    EXPECT_NE(read_file(lines->front().path).find("in the morn-\ning & closes"), std::string::npos);
    EXPECT_EQ(read_file(csv->front().path), "Boats,3,24.00\r\nDinghies,12,4.50\r\nRafts,1,\",5\"\"\"\r\n");
    // Nothing to be put into it: that is said, and no file is left.
    const TempFolder empty;
    for (const Format format : {Format::Csv, Format::Text}) {
        const auto none = made({Drawn{}}, empty.path(), format);
        ASSERT_FALSE(none);
        EXPECT_EQ(none.error().kind, ErrorKind::BadInput);
        EXPECT_TRUE(empty.files().empty());
    }
}

TEST(Formats, AnEBookPassesItsCheckAndPicturesCarryTheirResolution) {
    const TempFolder folder;
    auto pages = document();
    const auto book = made(pages, folder.path(), Format::Epub);
    ASSERT_TRUE(book);
    const Ran check = run({"java", "-jar", "/usr/bin/epubcheck", book->front().path.string()});
    EXPECT_EQ(check.status, 0) << check.out << check.err;
    for (const auto& [format, name] : {std::pair{Format::Webp, "WEBP"}, {Format::Bmp, "BMP"}}) {
        const auto files = made(pages, folder.path(), format, Per::Document);
        ASSERT_TRUE(files) << files.error().sentence;
        ASSERT_EQ(files->size(), 2U) << "one page a file";
        const Ran seen = run({"identify", "-format", "%m %w %h", files->front().path.string()});
        EXPECT_TRUE(seen.out.starts_with(name)) << seen.out << seen.err;
        EXPECT_TRUE(seen.out.ends_with("1240 1754")) << seen.out;
        const auto back = read_page(files->front().path);
        ASSERT_TRUE(back);
        cv::Mat grey = back->raster.pixels, off;
        if (grey.channels() == 3) cv::cvtColor(back->raster.pixels, grey, cv::COLOR_BGR2GRAY);
        cv::absdiff(grey, pages[0].page.pixels, off);
        EXPECT_LT(cv::mean(off)[0], format == Format::Bmp ? 0.01 : 4);
    }
    const Ran exif = run({"exiftool", "-s3", "-XResolution", "-ResolutionUnit", (folder / "Rules.webp").string()});
    EXPECT_EQ(exif.out, "150\ninches\n") << exif.err;
}

TEST(Formats, EachCanBeMadeOfAPageAndOfADocument) {
    const auto pages = document();
    for (const Format format : all_formats()) {
        if (format == Format::Auto) continue;
        for (const Per per : {Per::Document, Per::Page}) {
            const TempFolder folder;
            const std::vector<Drawn> first{pages.front(), pages.front()};
            const auto files = made(first, folder.path(), format, per);
            ASSERT_TRUE(files) << format_key(format) << ": " << files.error().sentence;
            EXPECT_EQ(files->size(), per == Per::Document && holds_many_pages(format) ? 1U : 2U) << format_key(format);
            EXPECT_EQ(folder.files().size(), files->size());
            for (const MadeFile& file : *files)
                EXPECT_EQ(file.path.extension(), "." + std::string(format_extension(format)));
        }
    }
}

TEST(Formats, PicturesAreCutOutWhereTheyAre) {
    const Drawn first = document().front();
    const auto pictures = pictures_on(as_it_was_read(first.text), first.page);
    ASSERT_EQ(pictures.size(), 1U);
    const double mm = dpi / mm_per_inch;
    EXPECT_NEAR(pictures[0].x, 177, mm);
    EXPECT_NEAR(pictures[0].y, 886, mm);
    EXPECT_NEAR(pictures[0].br().x, 177 + 354, mm);
    EXPECT_NEAR(pictures[0].br().y, 886 + 236, mm);
    // Behind what ends above it.
    const FlowPage flow = flow_of(as_it_was_read(first.text), first.page, 85);
    ASSERT_GT(flow.blocks.size(), 2U);
    EXPECT_EQ(flow.blocks[flow.blocks.size() - 2].kind, FlowBlock::Kind::Picture);
}

// The demo's invoice and lease, as they are scanned and read.
TEST(Formats, PapersThatWereReadKeepTheirTablesAndHeadings) {
    const TempFolder folder;
    ReaderPool readers;
    std::vector<Drawn> pages;
    for (const char* name : {"invoice", "lease-1"}) {
        Drawn& page = pages.emplace_back();
        page.page = scan(name, 0, 200, Ink::Grey);
        auto read = readers.borrow()->read(page.page, {"eng"});
        ASSERT_TRUE(read);
        page.text = *read;
    }
    const auto files = made(pages, folder.path(), Format::Docx);
    ASSERT_TRUE(files);
    const auto found = read_by_others(Format::Docx, files->front().path);
    EXPECT_EQ(found["words"].get<std::vector<std::string>>(), words_of(pages));
    ASSERT_GE(found["tables"].size(), 1U);
    const Rows table = found["tables"][0];
    const Rows truth{{"Item", "Quantity", "Each", "Amount"},
                     {"Mooring rope, 18 mm, hemp", "40", "2.35", "94.00"},
                     {"Bitumen blacking, five litres", "6", "31.20", "187.20"},
                     {"Brass tiller pin, heron", "2", "14.75", "29.50"},
                     {"Lock windlass, long throw", "3", "22.00", "66.00"},
                     {"Canal grease, one kilogram", "4", "8.90", "35.60"},
                     {"Oakum, box", "5", "12.40", "62.00"},
                     {"Paint brush, tar, wide", "10", "3.15", "31.50"},
                     {"Galvanised ring bolt", "12", "4.60", "55.20"}};
    ASSERT_GE(table.size(), truth.size());
    EXPECT_EQ(Rows(table.begin(), table.begin() + static_cast<std::ptrdiff_t>(truth.size())), truth);
    std::string headings;
    for (const auto& heading : found["headings"]) headings += heading[1].get<std::string>() + "|";
    for (const char* heading : {"Penhallow Chandlery", "Lease of a mooring", "1. Parties.", "2. Mooring.", "3. Term.",
                                "4. Rent.", "5. Vessel.", "6. Services."})
        EXPECT_NE(headings.find(heading), std::string::npos) << heading << " in " << headings;
}

}
}
