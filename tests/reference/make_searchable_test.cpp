// Adding text to PDFs without any: poppler finds the words at their places whichever way the page lies; by QPDF and
// poppler, the picture and everything else is unchanged.
#include "core/output/make_searchable.h"

#include "core/raster/image_file.h"
#include "core/text/pdf_text.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/support.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <opencv2/core.hpp>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

class MakeSearchable : public testing::Test {
  protected:
    ReaderPool readers;
    const std::function<Result<TextLayer>(const Raster&)> read_english = [this](const Raster& page) {
        return readers.borrow()->read(page, {"eng"});
    };
};

// Made by libtiff's tiff2pdf; upright after a rotation by `turned`, anywhere on its sheet.
fs::path picture_pdf(const TempFolder& folder, const std::string& name, int turned, double llx = 0, double lly = 0) {
    Raster page = scan("lease-1", 0, 150, Ink::Grey);
    const int back[] = {-1, cv::ROTATE_90_COUNTERCLOCKWISE, cv::ROTATE_180, cv::ROTATE_90_CLOCKWISE};
    if (turned != 0) cv::rotate(page.pixels.clone(), page.pixels, back[turned / 90]);
    const fs::path tiff = folder / (name + ".tif"), made = folder / (name + " made.pdf"),
                   pdf = folder / (name + ".pdf");
    write_file(tiff, *encode_tiff(page));
    EXPECT_EQ(run({"tiff2pdf", "-o", made.string(), tiff.string()}).status, 0);
    QPDF whole;
    whole.processFile(made.c_str());
    QPDFObjectHandle sheet = whole.getAllPages().front();
    const auto box = sheet.getKey("/MediaBox").getArrayAsRectangle();
    const double w = box.urx, h = box.ury;
    if (turned != 0) sheet.replaceKey("/Rotate", QPDFObjectHandle::newInteger(turned - 360)); // the same turn
    // Moves the sheet, and puts a larger media box around it.
    sheet.replaceKey("/MediaBox", QPDFObjectHandle::parse(
                                      fmt::format("[{} {} {} {}]", llx - 20, lly - 30, llx + w + 40, lly + h + 50)));
    sheet.replaceKey("/CropBox", QPDFObjectHandle::parse(fmt::format("[{} {} {} {}]", llx, lly, llx + w, lly + h)));
    sheet = whole.getAllPages().front();
    const std::string moved = fmt::format("1 0 0 1 {} {} cm\n", llx, lly); // left set: nobody takes it back
    QPDFPageObjectHelper(sheet).addPageContents(QPDFObjectHandle::newStream(&whole, moved), true);
    QPDFWriter writer(whole, pdf.c_str());
    writer.write();
    return pdf;
}

cv::Mat drawn(const fs::path& pdf) { return read_page(pdf)->raster.pixels; }

// Returns how many of the original's words are found within 0.5 mm.
size_t in_place(const fs::path& pdf, const fs::path& shown) {
    QPDF whole; // poppler counts from the medium's corner
    whole.processFile(pdf.c_str());
    QPDFObjectHandle sheet = whole.getAllPages().front();
    sheet.replaceKey("/MediaBox", sheet.getKey("/CropBox"));
    QPDFWriter(whole, shown.c_str()).write();
    const auto truth = words_of_original("lease-1"), found = words_of_pdf(shown);
    size_t good = 0;
    for (const auto& [a, b] : common_in_order(truth, found)) {
        const RectMm &t = truth[a].box, &f = found[b].box;
        good += std::abs(t.x - f.x) < 0.5 && std::abs(t.x + t.width - f.x - f.width) < 0.7 ? 1 : 0;
    }
    return good;
}

TEST_F(MakeSearchable, WordsAreAtTheirPrintedPositionsForEveryPageRotation) {
    const TempFolder folder;
    const size_t all = words_of_original("lease-1").size();
    for (const auto& [turned, x, y] :
         {std::tuple{0, 0.0, 0.0}, {90, 0.0, 0.0}, {180, -13.5, 700.25}, {270, 72.0, -8.0}}) {
        SCOPED_TRACE(turned);
        const fs::path pdf = picture_pdf(folder, fmt::format("page {}", turned), turned, x, y);
        EXPECT_FALSE(texts_in_pdf(pdf, 150)->at(0));
        const cv::Mat before = drawn(pdf);
        const auto made = make_searchable(pdf, read_english);
        ASSERT_TRUE(made) << made.error().sentence;
        EXPECT_EQ(*made, 1);
        EXPECT_GE(in_place(pdf, folder / "shown.pdf"), all * 97 / 100) << "of " << all;
        EXPECT_EQ(cv::norm(before, drawn(pdf), cv::NORM_INF), 0) << "not a pixel is other than it was";
        EXPECT_EQ(run({"qpdf", "--check", pdf.string()}).status, 0);
        const std::string bytes = read_file(pdf);
        EXPECT_EQ(make_searchable(pdf, read_english), 0) << "it has words now";
        EXPECT_EQ(read_file(pdf), bytes);
    }
}

// Some pages have words, a font of the same name, and an owner password; properties and bookmarks are kept.
TEST_F(MakeSearchable, OnlyPagesWithoutTextAreChanged) {
    const TempFolder folder;
    const fs::path words = folder / "words.pdf", both = folder / "both.pdf", hidden = folder / "hidden.pdf";
    write_file(words, pdf_with_text({"Former words of the lock-keeper"}));
    const fs::path picture = picture_pdf(folder, "picture", 0);
    ASSERT_EQ(make_searchable(picture, read_english), 1); // so that its font's name is taken
    ASSERT_EQ(run({"qpdf", "--empty", "--pages", words.string(), picture_pdf(folder, "other", 90).string(),
                   picture.string(), "--", both.string()})
                  .status,
              0);
    ASSERT_EQ(run({"qpdf", "--linearize", "--encrypt", "", "owner", "256", "--modify=annotate", "--", both.string(),
                   hidden.string()})
                  .status,
              0);
    const auto content_of = [](const fs::path& file, int page) {
        return run({"qpdf", "--show-pages", "--json", "--json-key=pages", file.string()}).out.size() +
               run({"pdftotext", "-f", std::to_string(page), "-l", std::to_string(page), file.string(), "-"})
                   .out.size();
    };
    const size_t before = content_of(both, 1);
    EXPECT_EQ(make_searchable(both, read_english), 1);
    EXPECT_EQ(content_of(both, 1), before);
    const auto texts = texts_in_pdf(both, 150);
    ASSERT_EQ(texts->size(), 3U);
    for (const auto& each : *texts) EXPECT_TRUE(each);
    const std::string as_it_was = read_file(hidden);
    const auto refused = make_searchable(hidden, read_english);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().kind, ErrorKind::Encrypted);
    EXPECT_EQ(read_file(hidden), as_it_was);
    write_file(folder / "broken.pdf", as_it_was.substr(0, as_it_was.size() / 2));
    EXPECT_FALSE(make_searchable(folder / "broken.pdf", read_english));
    EXPECT_EQ(read_file(folder / "broken.pdf").size(), as_it_was.size() / 2);
    EXPECT_EQ(make_searchable(folder / "none.pdf", read_english).error().kind, ErrorKind::Missing);
    // A signed PDF: adding words would break its signature.
    const fs::path is_signed = folder / "signed.pdf";
    QPDF whole;
    whole.processFile(picture_pdf(folder, "to sign", 0).c_str());
    whole.getRoot().replaceKey("/Perms", QPDFObjectHandle::parse("<< /DocMDP << /Type /Sig >> >>"));
    QPDFWriter(whole, is_signed.c_str()).write();
    const std::string as_signed = read_file(is_signed);
    const auto broken = make_searchable(is_signed, read_english);
    ASSERT_FALSE(broken);
    EXPECT_NE(broken.error().sentence.find("is digitally signed"), std::string::npos) << broken.error().sentence;
    EXPECT_EQ(read_file(is_signed), as_signed);
}

TEST_F(MakeSearchable, AFontOfThePageKeepsItsName) {
    const TempFolder folder;
    const fs::path plain = picture_pdf(folder, "plain", 0), file = folder / "named.pdf";
    QPDF whole;
    whole.processFile(plain.c_str());
    QPDFObjectHandle sheet = whole.getAllPages().front(), resources = sheet.getKey("/Resources");
    resources.replaceKey("/Font", QPDFObjectHandle::parse("<< /YelvinText << /Type /Font /Subtype /Type1 /BaseFont "
                                                          "/Courier >> >>"));
    QPDFWriter(whole, file.c_str()).write();
    ASSERT_EQ(make_searchable(file, read_english), 1);
    QPDF now;
    now.processFile(file.c_str());
    QPDFObjectHandle page = now.getAllPages().front(), fonts = page.getKey("/Resources").getKey("/Font");
    EXPECT_EQ(fonts.getKey("/YelvinText").getKey("/BaseFont").unparse(), "/Courier");
    EXPECT_EQ(fonts.getKeys().size(), 2U);
}

TEST_F(MakeSearchable, AStoppedUnreadableOrModifiedFileIsNotChanged) {
    const TempFolder folder;
    const fs::path pdf = picture_pdf(folder, "page", 0);
    const std::string bytes = read_file(pdf);
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(make_searchable(pdf, read_english, stop.get_token()).error().kind, ErrorKind::Stopped);
    const auto cannot = [](const Raster&) -> Result<TextLayer> { return fail(ErrorKind::Missing, "no language"); };
    EXPECT_EQ(make_searchable(pdf, cannot).error().sentence, "no language");
    const auto nothing = [](const Raster&) -> Result<TextLayer> { return TextLayer{}; };
    EXPECT_EQ(make_searchable(pdf, nothing), 0);
    EXPECT_EQ(read_file(pdf), bytes);
    // Another program writes into the file while it is read.
    const auto meddling = [&](const Raster& page) {
        write_file(pdf, bytes + "\n% another program was here\n");
        return read_english(page);
    };
    EXPECT_EQ(make_searchable(pdf, meddling).error().kind, ErrorKind::Busy);
    EXPECT_EQ(read_file(pdf), bytes + "\n% another program was here\n");
    EXPECT_EQ(folder.files(), (std::vector<std::string>{"page made.pdf", "page.pdf", "page.tif"}));
}

}
}
