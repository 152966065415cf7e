// Every format that a document can be saved in, opened by programs that are not ours: python-docx, odfpy, an HTML 5
// parser, epubcheck, ImageMagick, exiftool; the rules for CSV are those of RFC 4180. The truth is a document drawn with
// known words, and demo papers that were read.
#include "core/output/flow.h"
#include "core/raster/image_file.h"
#include "jobs/reader_pool.h"
#include "support/drawn.h"

#include <opencv2/imgproc.hpp>

#include <fmt/format.h>

#include <sstream>

namespace yelvin::test {
namespace {

TEST(Formats, TextKeepsItsOrderAndItsParagraphTypes) {
    const TempFolder folder;
    const auto pages = drawn_document();
    const auto words = words_of(pages);
    const Rows table{{"Boats", "3", "24.00"}, {"Dinghies", "12", "4.50"}, {"Rafts", "1", ",5\""}};
    for (const Format format : {Format::Docx, Format::Odt, Format::Html, Format::Epub, Format::Hocr, Format::Alto}) {
        SCOPED_TRACE(format_key(format));
        const auto files = made_of(pages, folder.path(), make_as(format));
        ASSERT_TRUE(files) << files.error().sentence;
        ASSERT_EQ(files->size(), 1U);
        const auto found = read_by_others(std::string(format_key(format)), files->front().path);
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

TEST(Formats, TextHasParagraphsOrLinesAndCsvOnlyTables) {
    const TempFolder folder;
    const auto pages = drawn_document();
    Ticket::Make as_lines = make_as(Format::Text);
    as_lines.lines_as_printed = true;
    const auto text = made_of(pages, folder.path(), make_as(Format::Text)),
               lines = made_of(pages, folder.path(), as_lines),
               csv = made_of(pages, folder.path(), make_as(Format::Csv));
    ASSERT_TRUE(text && lines && csv);
    EXPECT_TRUE(read_file(text->front().path)
                    .starts_with("Rules of the basin\n\nThe keeper opens at eight in the morning & closes at dusk, all "
                                 "the \"year\".\n\nMooring <and> fees\n\n1. Pay the toll before you pass.\n2. Shut"));
    EXPECT_TRUE(read_file(text->front().path).ends_with("all of it.\n\nPage two, lying on its side.\n"));
    EXPECT_NE(read_file(lines->front().path).find("in the morn-\ning & closes"), std::string::npos);
    EXPECT_EQ(read_file(csv->front().path), "Boats,3,24.00\r\nDinghies,12,4.50\r\nRafts,1,\",5\"\"\"\r\n");
    // The document has nothing to put into the file: this is reported, and no file is left.
    const TempFolder empty;
    for (const Format format : {Format::Csv, Format::Text}) {
        const auto none = made_of({Drawn{}}, empty.path(), make_as(format));
        ASSERT_FALSE(none);
        EXPECT_EQ(none.error().kind, ErrorKind::BadInput);
        EXPECT_TRUE(empty.files().empty());
    }
}

TEST(Formats, AnEBookPassesItsCheckAndPicturesCarryTheirResolution) {
    const TempFolder folder;
    auto pages = drawn_document();
    const auto book = made_of(pages, folder.path(), make_as(Format::Epub));
    ASSERT_TRUE(book);
    const Ran check = run({"java", "-jar", "/usr/bin/epubcheck", book->front().path.string()});
    EXPECT_EQ(check.status, 0) << check.out << check.err;
    for (const auto& [format, name] : {std::pair{Format::Webp, "WEBP"},
                                       {Format::Bmp, "BMP3"},
                                       {Format::Avif, "HEIC"},
                                       {Format::Heic, "HEIC"},
                                       {Format::Tiff, "TIFF"},
                                       {Format::Png, "PNG"},
                                       {Format::Jpeg, "JPEG"}}) {
        const auto files = made_of({pages.front()}, folder.path(), make_as(format));
        ASSERT_TRUE(files) << files.error().sentence;
        ASSERT_EQ(files->size(), 1U);
        const std::string file = files->front().path.string();
        const Ran seen = run({"identify", "-format", "%m %w %h\n", file + "[0]"});
        EXPECT_EQ(seen.out, fmt::format("{} 1240 1754\n", name)) << seen.err;
        // The picture as ImageMagick decodes it.
        ASSERT_EQ(run({"convert", file + "[0]", "-strip", (folder / "seen.png").string()}).status, 0);
        const auto back = read_page(folder / "seen.png");
        ASSERT_TRUE(back);
        cv::Mat grey = back->raster.pixels, off;
        if (grey.channels() == 3) cv::cvtColor(back->raster.pixels, grey, cv::COLOR_BGR2GRAY);
        cv::absdiff(grey, pages[0].page.pixels, off);
        const bool whole = format == Format::Bmp || format == Format::Tiff || format == Format::Png;
        EXPECT_LT(cv::mean(off)[0], whole ? 0.01 : 4) << name;
        if (format == Format::Bmp) continue; // it has no place for either that old programs read
        const Ran exif = run({"exiftool", "-s3", "-ICC_Profile:ProfileDescription", file});
        EXPECT_EQ(exif.out, format == Format::Webp ? "sRGB IEC61966-2.1\n" : "Grey with the curve of sRGB\n") << name;
        const Ran fine = run({"identify", "-format", "%x %U\n", file + "[0]"});
        if (format == Format::Png)
            EXPECT_TRUE(fine.out.starts_with("59.0")) << fine.out; // pixels a centimetre
        else
            EXPECT_EQ(run({"exiftool", "-s3", "-XResolution", file}).out, "150\n") << name;
    }
}

// Each coding as libtiff's own program names it, decoded by ImageMagick.
TEST(Formats, TiffUsesTheChosenCompression) {
    struct Case {
        TiffCoding coding;
        Ink ink;
        const char* packed;
        double off;
    };
    for (const Case& each : {Case{TiffCoding::Auto, Ink::Black, "CCITT Group 4", 0},
                             {TiffCoding::Auto, Ink::Colour, "AdobeDeflate", 0},
                             {TiffCoding::Lzw, Ink::Grey, "LZW", 0},
                             {TiffCoding::Lzw, Ink::Black, "LZW", 0},
                             {TiffCoding::Deflate, Ink::Black, "AdobeDeflate", 0},
                             {TiffCoding::Jpeg, Ink::Colour, "JPEG", 4},
                             {TiffCoding::Jpeg, Ink::Grey, "JPEG", 4},
                             {TiffCoding::Jpeg, Ink::Black, "CCITT Group 4", 0}}) {
        SCOPED_TRACE(each.packed);
        const TempFolder folder;
        Drawn page = drawn_document().front();
        if (each.ink == Ink::Colour) cv::cvtColor(page.page.pixels, page.page.pixels, cv::COLOR_GRAY2BGR);
        if (each.ink == Ink::Black) page.page.pixels = page.page.pixels > 128;
        page.page.ink = each.ink;
        Ticket::Make make = make_as(Format::Tiff);
        make.tiff_coding = each.coding;
        const auto files = made_of({page, page}, folder.path(), make);
        ASSERT_TRUE(files) << files.error().sentence;
        const std::string file = files->front().path.string(), about = run({"tiffinfo", file}).out;
        EXPECT_NE(about.find(std::string("Compression Scheme: ") + each.packed), std::string::npos) << about;
        EXPECT_NE(about.find("Resolution: 150, 150 pixels/inch"), std::string::npos) << about;
        ASSERT_EQ(run({"convert", file + "[1]", "-strip", (folder / "seen.png").string()}).status, 0);
        const auto back = read_page(folder / "seen.png");
        ASSERT_TRUE(back);
        cv::Mat seen = back->raster.pixels, off;
        if (seen.channels() != page.page.pixels.channels())
            cv::cvtColor(back->raster.pixels, seen, seen.channels() == 1 ? cv::COLOR_GRAY2BGR : cv::COLOR_BGR2GRAY);
        cv::absdiff(seen, page.page.pixels, off);
        EXPECT_LE(cv::mean(off)[0], each.off);
    }
}

TEST(Formats, EachCanBeSavedPerPageAndPerDocument) {
    const auto pages = drawn_document();
    for (const Format format : all_formats()) {
        if (format == Format::Auto) continue;
        for (const Per per : {Per::Document, Per::Page}) {
            const TempFolder folder;
            const std::vector<Drawn> first{pages.front(), pages.front()};
            const auto files = made_of(first, folder.path(), make_as(format, per));
            ASSERT_TRUE(files) << format_key(format) << ": " << files.error().sentence;
            EXPECT_EQ(files->size(), per == Per::Document && holds_many_pages(format) ? 1U : 2U) << format_key(format);
            EXPECT_EQ(folder.files().size(), files->size());
            for (const MadeFile& file : *files)
                EXPECT_EQ(file.path.extension(), "." + std::string(format_extension(format)));
        }
    }
}

TEST(Formats, PicturesAreCroppedFromTheirPlace) {
    const Drawn first = drawn_document().front();
    const auto pictures = pictures_on(as_it_was_read(first.text), first.page);
    ASSERT_EQ(pictures.size(), 1U);
    const double mm = drawn_dpi / mm_per_inch;
    EXPECT_NEAR(pictures[0].x, 177, mm);
    EXPECT_NEAR(pictures[0].y, 886, mm);
    EXPECT_NEAR(pictures[0].br().x, 177 + 354, mm);
    EXPECT_NEAR(pictures[0].br().y, 886 + 236, mm);
    // A picture comes after the text that ends above it.
    const FlowPage flow = flow_of(as_it_was_read(first.text), first.page, 85);
    ASSERT_GT(flow.blocks.size(), 2U);
    EXPECT_EQ(flow.blocks[flow.blocks.size() - 2].kind, FlowBlock::Kind::Picture);
}

// The demo's invoice and lease, scanned and read.
TEST(Formats, DocumentsKeepTheirTablesAndHeadings) {
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
    const auto files = made_of(pages, folder.path(), make_as(Format::Docx));
    ASSERT_TRUE(files);
    const auto found = read_by_others("docx", files->front().path);
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
