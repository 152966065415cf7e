#include "core/output/document_writer.h"
#include "core/output/flow.h"
#include "core/output/glyphless_font.h"
#include "core/output/pdf_page.h"
#include "core/raster/image_file.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/support.h"

#include <mutex>

namespace yelvin::test {
namespace {

SaveJob job_of(size_t pages, const TempFolder& folder, Format format, Per per = Per::Document) {
    SaveJob job;
    job.page_count = pages;
    job.folder = folder.path();
    job.ticket.make = {format, per, 85};
    job.ticket.read.languages.clear();
    job.ticket.save.name = {{NamePart::Kind::Words, "Lease"}, {NamePart::Kind::Counter, "", 2}};
    job.page = [](size_t index) -> Result<std::optional<FinishedPage>> {
        return std::optional(FinishedPage{
            Raster{cv::Mat(40, 50 + static_cast<int>(index), CV_8UC1, cv::Scalar(10.0 * static_cast<double>(index))),
                   100, Ink::Grey},
            std::nullopt});
    };
    return job;
}

TEST(SaveJob, KeepsPagesInOrder) {
    const TempFolder folder;
    ReaderPool readers;
    SaveJob job = job_of(17, folder, Format::Tiff);
    std::mutex mutex;
    std::vector<double> progress;
    job.progress = [&](double done) {
        const std::scoped_lock lock(mutex);
        progress.push_back(done);
    };
    const auto made = save_document(job, readers, {});
    ASSERT_TRUE(made) << made.error().sentence;
    EXPECT_EQ(made->front().pages, 17);
    EXPECT_EQ(made->front().path.filename(), "Lease 01.tif");
    EXPECT_EQ(made->front().bytes, std::filesystem::file_size(made->front().path));
    ASSERT_EQ(*count_pages(made->front().path), 17);
    for (int i = 0; i < 17; ++i) {
        const auto page = read_page(made->front().path, i);
        ASSERT_TRUE(page);
        EXPECT_EQ(page->raster.width_px(), 50 + i);
        EXPECT_EQ(page->raster.pixels.at<uchar>(5, 5), 10 * i) << "every pixel as it was";
        EXPECT_EQ(page->raster.dpi, 100);
    }
    ASSERT_EQ(progress.size(), 17U);
    EXPECT_TRUE(std::ranges::is_sorted(progress));
    EXPECT_DOUBLE_EQ(progress.back(), 1);
}

TEST(SaveJob, SavesOneFilePerPageIfTheFormatOrTheTicketRequiresIt) {
    ReaderPool readers;
    for (const auto& [format, per] :
         {std::pair{Format::Png, Per::Document}, {Format::Jpeg, Per::Page}, {Format::Pdf, Per::Page}}) {
        const TempFolder folder;
        const auto made = save_document(job_of(3, folder, format, per), readers, {});
        ASSERT_TRUE(made);
        ASSERT_EQ(made->size(), 3U);
        EXPECT_EQ(made->at(2).path.stem(), "Lease 03");
        EXPECT_EQ(folder.files().size(), 3U);
        EXPECT_EQ(read_page(made->at(2).path)->raster.width_px(), 52);
    }
}

TEST(SaveJob, AFailingPageEndsTheJobWithoutFilesUnlessItCanBeLeftOut) {
    const TempFolder folder;
    ReaderPool readers;
    SaveJob job = job_of(6, folder, Format::Pdf);
    const auto page = job.page;
    job.page = [page](size_t index) -> Result<std::optional<FinishedPage>> {
        if (index == 3) return fail(ErrorKind::BadInput, "Page four is gone.");
        if (index == 4) return std::optional<FinishedPage>{}; // a blank one
        return page(index);
    };
    for (const Per per : {Per::Document, Per::Page}) {
        job.ticket.make.per = per;
        const auto failed = save_document(job, readers, {});
        ASSERT_FALSE(failed);
        EXPECT_EQ(failed.error().sentence, "Page four is gone.");
        EXPECT_TRUE(folder.files().empty()) << "all of it or nothing";
    }
    job.ticket.make.per = Per::Document;
    job.leave_out = [](size_t index, const Error&) { return index == 3; };
    const auto made = save_document(job, readers, {});
    ASSERT_TRUE(made);
    EXPECT_EQ(made->front().pages, 4);
    job.page = [](size_t) -> Result<std::optional<FinishedPage>> { return std::optional<FinishedPage>{}; };
    const auto nothing = save_document(job, readers, {});
    ASSERT_FALSE(nothing);
    EXPECT_NE(nothing.error().sentence.find("No page is left"), std::string::npos);
}

TEST(SaveJob, StopsWithoutFiles) {
    const TempFolder folder;
    ReaderPool readers;
    std::stop_source stop;
    SaveJob job = job_of(200, folder, Format::Pdf);
    job.progress = [&](double done) {
        if (done > 0.1) stop.request_stop();
    };
    const auto made = save_document(job, readers, stop.get_token());
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().kind, ErrorKind::Stopped);
    EXPECT_TRUE(folder.files().empty());
}

// Common practice, no source: black files are smaller than grey ones, and grey ones than colour; a 300 dpi page is
// several times as large as a 75 dpi one.
TEST(Sizes, BlackIsSmallerThanGreyAndGreyThanColour) {
    const Raster page = scan("lease-2", 0, 300, Ink::Colour);
    const auto bytes = [](const Raster& raster) { return encode_page(raster, {}, Format::Pdf, 85)->image.size(); };
    const size_t colour = bytes(page), grey = bytes(with_ink(page, Ink::Grey)),
                 black = bytes(with_ink(page, Ink::Black));
    EXPECT_LT(black * 4, grey);
    EXPECT_LT(grey, colour);
    EXPECT_GT(colour, 4 * bytes(at_resolution(page, 75)));
}

// The ITU-T T.6 data from the PDF, decoded by libtiff's fax2tiff.
TEST(G4, IsDecodedByAnotherProgramToTheSamePixels) {
    const TempFolder folder;
    const Raster page = scan("till-receipt", 0, 100, Ink::Black, {60, 100, 90, 60});
    write_file(folder / "page.g4", *encode_g4(page));
    const Ran ran = run({"fax2tiff", "-4", "-M", "-X", std::to_string(page.width_px()), "-o",
                         (folder / "page.tif").string(), (folder / "page.g4").string()});
    ASSERT_EQ(ran.status, 0) << ran.err;
    const auto back = read_page(folder / "page.tif");
    ASSERT_TRUE(back) << back.error().sentence;
    ASSERT_GE(back->raster.height_px(), page.height_px());
    // fax2tiff writes oblong fax pixels, so only the stored rows are compared.
    const Ran dump =
        run({"convert", (folder / "page.tif").string(), "-depth", "8", "gray:" + (folder / "page.gray").string()});
    ASSERT_EQ(dump.status, 0);
    const std::string pixels = read_file(folder / "page.gray");
    ASSERT_GE(pixels.size(), page.pixels.total());
    size_t different = 0;
    for (int y = 0; y < page.height_px(); ++y) {
        for (int x = 0; x < page.width_px(); ++x)
            different +=
                static_cast<uchar>(pixels[static_cast<size_t>(y * page.width_px() + x)]) != page.pixels.at<uchar>(y, x);
    }
    EXPECT_EQ(different, 0U);
}

TEST(Codes, AreAssignedInOrderAndMapBackToCharacters) {
    GlyphlessCodes codes;
    EXPECT_EQ(codes.encode("abba").hex, "0001000200020001");
    EXPECT_EQ(codes.encode("a🚢").count, 2);
    EXPECT_EQ(codes.encode("\xff\xfe z").count, 2) << "bytes that are no UTF-8 are left out";
    const std::string map = codes.to_unicode_map();
    EXPECT_NE(map.find("<0001> <0061>"), std::string::npos);
    EXPECT_NE(map.find("<0003> <D83DDEA2>"), std::string::npos) << "beyond the first plane as a UTF-16 pair";
    GlyphlessCodes many;
    for (char32_t c = 0x4E00; c < 0x4E00 + 250; ++c) {
        const char utf8[] = {static_cast<char>(0xE0 | (c >> 12)), static_cast<char>(0x80 | ((c >> 6) & 0x3F)),
                             static_cast<char>(0x80 | (c & 0x3F)), 0};
        many.encode(utf8);
    }
    const std::string blocks = many.to_unicode_map();
    EXPECT_NE(blocks.find("100 beginbfchar"), std::string::npos);
    EXPECT_NE(blocks.find("50 beginbfchar"), std::string::npos);
}

// OpenType 1.9, "Calculating checksums": the sum of the whole font is 0xB1B0AFBA.
TEST(Font, ItsChecksumMatchesTheSpecification) {
    for (const int glyphs : {1, 2, 95, 3000}) {
        const std::string font = glyphless_truetype(glyphs);
        ASSERT_EQ(font.size() % 4, 0U);
        uint32_t sum = 0;
        for (size_t i = 0; i < font.size(); i += 4) {
            for (size_t k = 0; k < 4; ++k)
                sum += static_cast<uint32_t>(static_cast<unsigned char>(font[i + k])) << (24 - 8 * k);
        }
        EXPECT_EQ(sum, 0xB1B0AFBA) << glyphs;
    }
}

TEST(PdfPage, StretchesEachWordToItsPrintedWidth) {
    GlyphlessCodes codes;
    const TextLayer text{
        {{{{"lock", {100, 60, 200, 40}, 90}, {"keeper", {330, 60, 300, 40}, 90}}, {100, 100}, {630, 100}, 39, 11}},
        1000,
        1000};
    const std::string content = page_content(240, 240, 300, text, codes);
    EXPECT_TRUE(content.starts_with("q 240.0000 0 0 240.0000 0 0 cm /Im0 Do Q\nq\nBT 3 Tr\n")) << content;
    EXPECT_TRUE(content.ends_with("ET\nQ\n")) << "what is drawn behind it is not invisible";
    // 39 px at 300 dpi are 9.36 pt of ascent, of which the font has 0.78 em: 12 pt. Four glyphs of half an em are 24 pt
    // wide; printed, they are 200 px, 48 pt wide: stretched to 200 percent. The gap of 30 px, 7.2 pt, is one glyph of 6
    // pt at 120 percent.
    EXPECT_NE(content.find("/F0 12.000 Tf"), std::string::npos) << content;
    EXPECT_NE(content.find("24.000 216.000 Tm 200.000 Tz <0001000200030004> Tj"), std::string::npos) << content;
    EXPECT_NE(content.find("120.000 Tz"), std::string::npos) << content;
}

// y grows downwards on a page and upwards in a PDF (ISO 32000-2, 8.3.2.3): a baseline that falls by 100 px over 2000 is
// rotated clockwise, by the matrix [c -s s c] with the tangent 0.05.
TEST(PdfPage, WordsFollowASlopingBaseline) {
    GlyphlessCodes codes;
    const TextLayer text{{{{{"lock", {100, 160, 200, 40}, 90}}, {100, 200}, {2100, 300}, 39, 11}}, 2400, 1000};
    const std::string content = page_content(576, 240, 300, text, codes);
    EXPECT_NE(content.find("\n0.99875 -0.04994 0.04994 0.99875 24.000 192.000 Tm"), std::string::npos) << content;
}

// The number printed on a page becomes its label, also if a page without a number precedes it.
TEST(Output, PagesAfterAVectorPageKeepTheirPrintedNumbers) {
    const TempFolder folder;
    const auto writer = new_document_writer(folder / "a.pdf", Format::Pdf, {});
    EncodedPage drawn;
    drawn.drawing = pdf_with_text({"The lease of the mooring at Heron Reach"});
    ASSERT_TRUE(writer->append(std::move(drawn)));
    for (const char* number : {"3", "4"}) {
        const TextLayer text{{{{{"mooring", {100, 60, 200, 40}, 90}}, {100, 100}, {300, 100}, 39, 11},
                              {{{number, {200, 560, 20, 40}, 90}}, {200, 600}, {220, 600}, 39, 11}},
                             400,
                             640};
        ASSERT_TRUE(writer->append(
            *encode_page({cv::Mat(640, 400, CV_8UC1, cv::Scalar(250)), 300, Ink::Grey}, text, Format::Pdf, 80)));
    }
    ASSERT_TRUE(writer->finish());
    const auto seen =
        nlohmann::json::parse(run({"qpdf", "--json=1", "--json-key=pagelabels", (folder / "a.pdf").string()}).out);
    ASSERT_EQ(seen["pagelabels"].size(), 1U) << seen.dump();
    EXPECT_EQ(seen["pagelabels"][0]["index"], 0);
    EXPECT_EQ(seen["pagelabels"][0]["label"]["/St"], 2) << "so that the next ones are 3 and 4";
}

// Word processors join two tables with nothing between them (ECMA-376-1, 17.4.38, from memory).
TEST(Output, AParagraphSeparatesTwoTablesOfADocx) {
    const TempFolder folder;
    const auto writer = new_document_writer(folder / "a.docx", Format::Docx, {});
    EncodedPage page;
    for (const char* cell : {"berth", "rate"}) {
        FlowBlock table;
        table.kind = FlowBlock::Kind::Table;
        table.table.rows = {{cell, "12"}, {"paid", "7"}};
        page.flow.blocks.push_back(table);
    }
    page.flow.size = {210, 297};
    page.flow.used = {20, 20, 170, 250};
    ASSERT_TRUE(writer->append(std::move(page)));
    ASSERT_TRUE(writer->finish());
    const std::string body = run({"unzip", "-p", (folder / "a.docx").string(), "word/document.xml"}).out;
    const size_t first = body.find("</w:tbl>"), second = body.find("<w:tbl>", first);
    ASSERT_NE(second, std::string::npos) << body;
    EXPECT_NE(body.substr(first, second - first).find("<w:p>"), std::string::npos) << body;
}

// Each drawn page has its own fonts. In the file each font is stored once, and the pages look and read as before.
TEST(Output, VectorPagesShareTheirFonts) {
    const TempFolder folder;
    constexpr int pages = 30;
    const std::string drawing = pdf_with_text({"The lease of the mooring at Heron Reach", "and what it costs"});
    write_file(folder / "one.pdf", drawing);
    const auto made = [&](int count, const char* name) {
        const auto writer = new_document_writer(folder / name, Format::Pdf, {});
        for (int i = 0; i < count; ++i) {
            EncodedPage page;
            page.drawing = drawing;
            page.stamp = i == 3 ? "only here" : "";
            page.make.stamp.parts = {{NamePart::Kind::Words, "only here"}};
            EXPECT_TRUE(writer->append(std::move(page)));
        }
        EXPECT_TRUE(writer->finish());
        return std::filesystem::file_size(folder / name);
    };
    const auto first = made(1, "first.pdf"), all = made(pages, "all.pdf");
    EXPECT_LT(all, first + pages * 1500) << "a page costs its own marks only; the first took " << first;
    EXPECT_EQ(run({"qpdf", "--check", (folder / "all.pdf").string()}).status, 0);
    const std::string fonts = run({"pdffonts", (folder / "all.pdf").string()}).out;
    std::istringstream lines(fonts);
    int listed = -2; // below two lines of heading
    for (std::string line; std::getline(lines, line);) ++listed;
    EXPECT_LE(listed, 2) << fonts; // that of the text and that of the stamp
    const std::string text = text_of_pdf(folder / "all.pdf");
    size_t seen = 0;
    for (size_t at = text.find("Heron Reach"); at != std::string::npos; at = text.find("Heron Reach", at + 1)) ++seen;
    EXPECT_EQ(seen, static_cast<size_t>(pages));
    EXPECT_EQ(text.find("only here"), text.rfind("only here")) << "a page's stamp is its own";
    run({"pdftoppm", "-r", "60", "-f", "9", "-l", "9", "-singlefile", (folder / "all.pdf").string(),
         (folder / "a").string()});
    run({"pdftoppm", "-r", "60", "-singlefile", (folder / "one.pdf").string(), (folder / "b").string()});
    EXPECT_EQ(read_file(folder / "a.ppm"), read_file(folder / "b.ppm"));
}

}
}
