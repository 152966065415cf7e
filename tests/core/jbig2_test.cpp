// JBIG2 data are what the standard says: they are checked by its own example, and decoded by jbig2dec and poppler, two
// decoders that others wrote, to the same pixels.
#include "core/jbig2/arithmetic_encoder.h"
#include "core/jbig2/jbig2_encoder.h"
#include "core/raster/image_file.h"
#include "core/raster/picture_codings.h"
#include "support/support.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

#include <random>

namespace yelvin::test {
namespace {

cv::Mat no_ink(int width, int height) { return cv::Mat::zeros(height, width, CV_8UC1); }

// Ink on each pixel with the given probability.
cv::Mat specks(int width, int height, double share, unsigned seed) {
    cv::Mat1b out(height, width);
    std::mt19937 random(seed);
    const auto limit = static_cast<unsigned long>(share * 1000);
    for (uchar& pixel : out) pixel = random() % 1000 < limit ? 255 : 0;
    return out;
}

// Lines of letters and digits. Each edge pixel of the print is ink or paper at random, as in a bad scan.
cv::Mat bad_print(const std::vector<std::string>& lines, double scale, unsigned seed) {
    cv::Mat out = no_ink(1240, 90 + 60 * static_cast<int>(lines.size()));
    for (size_t i = 0; i < lines.size(); ++i)
        cv::putText(out, lines[i], {40, 70 + 60 * static_cast<int>(i)}, cv::FONT_HERSHEY_SIMPLEX, scale, 255, 3);
    cv::Mat outer, inner;
    cv::dilate(out, outer, cv::Mat::ones(3, 3, CV_8U));
    cv::erode(out, inner, cv::Mat::ones(3, 3, CV_8U));
    const cv::Mat noise = specks(out.cols, out.rows, 0.5, seed);
    cv::Mat edge = outer - inner;
    cv::Mat worn = inner | (edge & noise);
    return worn;
}

std::vector<std::string> text_of_letters(unsigned seed, int lines) {
    std::mt19937 random(seed);
    std::vector<std::string> out;
    for (int i = 0; i < lines; ++i) {
        std::string& line = out.emplace_back();
        for (int k = 0; k < 48; ++k) line += k % 7 == 6 ? ' ' : "aeinrstlodcupmhgbv0123456789"[random() % 28];
    }
    return out;
}

// Returns the ink that poppler sees in a PDF with this picture.
cv::Mat by_poppler(const std::string& page, const std::string& globals, cv::Size size) {
    QPDF pdf;
    pdf.emptyPDF();
    QPDFObjectHandle image = QPDFObjectHandle::newStream(&pdf);
    image.replaceDict(QPDFObjectHandle::parse(
        fmt::format("<< /Type /XObject /Subtype /Image /Width {} /Height {} /ColorSpace /DeviceGray /BitsPerComponent "
                    "1 >>",
                    size.width, size.height)));
    QPDFObjectHandle parameters = QPDFObjectHandle::newNull();
    if (!globals.empty()) {
        parameters = QPDFObjectHandle::newDictionary();
        parameters.replaceKey("/JBIG2Globals", QPDFObjectHandle::newStream(&pdf, globals));
    }
    image.replaceStreamData(page, QPDFObjectHandle::newName("/JBIG2Decode"), parameters);
    QPDFObjectHandle sheet = pdf.makeIndirectObject(
        QPDFObjectHandle::parse("<< /Type /Page /MediaBox [0 0 100 100] /Resources << /XObject << >> >> >>"));
    sheet.getKey("/Resources").getKey("/XObject").replaceKey("/P", image);
    sheet.replaceKey("/Contents", QPDFObjectHandle::newStream(&pdf, "q 100 0 0 100 0 0 cm /P Do Q"));
    pdf.addPage(sheet, false);
    const TempFolder folder;
    const std::string file = (folder / "page.pdf").string();
    QPDFWriter writer(pdf, file.c_str());
    writer.write();
    run({"pdfimages", file, (folder / "picture").string()});
    // A PBM file: a head of two lines, and eight pixels in a byte, of which 1 is ink.
    const std::string pbm = read_file(folder / "picture-000.pbm"),
                      head = fmt::format("P4\n{} {}\n", size.width, size.height);
    const auto in_row = static_cast<size_t>(size.width + 7) / 8;
    if (!pbm.starts_with(head) || pbm.size() != head.size() + in_row * static_cast<size_t>(size.height)) return {};
    cv::Mat ink = no_ink(size.width, size.height);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const auto byte = static_cast<unsigned char>(
                pbm[head.size() + static_cast<size_t>(y) * in_row + static_cast<size_t>(x / 8)]);
            if (byte >> (7 - x % 8) & 1) ink.at<uchar>(y, x) = 255;
        }
    return ink;
}

// Whether both decoders return the page's own pixels.
void expect_exact(const cv::Mat& ink, const std::string& page, const std::string& globals, const std::string& what) {
    const auto decoded = decode_jbig2(page, globals);
    ASSERT_TRUE(decoded) << what;
    ASSERT_EQ(decoded->size(), ink.size()) << what;
    EXPECT_EQ(cv::countNonZero((*decoded == 0) != ink), 0) << what << ", by jbig2dec";
    const cv::Mat seen = by_poppler(page, globals, ink.size());
    ASSERT_EQ(seen.size(), ink.size()) << what << ", by poppler";
    EXPECT_EQ(cv::countNonZero(seen != ink), 0) << what << ", by poppler";
}

Jbig2Document encoded(const std::vector<cv::Mat>& pages) {
    Jbig2Encoder encoder;
    for (const cv::Mat& page : pages) encoder.add(page, 300);
    return encoder.finish();
}

size_t bytes_of(const Jbig2Document& document) {
    size_t bytes = document.globals.size();
    for (const std::string& page : document.pages) bytes += page.size();
    return bytes;
}

size_t bytes_as_g4(const std::vector<cv::Mat>& pages) {
    size_t bytes = 0;
    for (const cv::Mat& page : pages) bytes += encode_g4({255 - page, 300, Ink::Black})->size();
    return bytes;
}

// Source: ITU-T T.88 (08/2018), annex H.2, "Test sequence for arithmetic coder".
TEST(Jbig2, TheArithmeticEncoderReturnsTheBytesOfTheStandardsExample) {
    const std::string bits(
        "\x00\x02\x00\x51\x00\x00\x00\xC0\x03\x52\x87\x2A\xAA\xAA\xAA\xAA\x82\xC0\x20\x00\xFC\xD7\x9E"
        "\xF6\xBF\x7F\xED\x90\x4F\x46\xA3\xBF",
        32);
    const std::string coded(
        "\x84\xC7\x3B\xFC\xE1\xA1\x43\x04\x02\x20\x00\x00\x41\x0D\xBB\x86\xF4\x31\x7F\xFF\x88\xFF\x37"
        "\x47\x1A\xDB\x6A\xDF\xFF\xAC",
        30);
    ArithmeticEncoder encoder;
    BitContext context;
    for (const char byte : bits)
        for (int i = 7; i >= 0; --i) encoder.encode(context, static_cast<unsigned char>(byte) >> i & 1);
    EXPECT_EQ(encoder.finish(), coded);
}

TEST(Jbig2, PagesOfEverySizeAndDensityAreDecodedToTheirPixels) {
    for (const cv::Size size : {cv::Size(1, 1), {1, 9}, {9, 1}, {63, 5}, {64, 5}, {65, 5}, {1, 3000}, {65535, 3}})
        for (const double share : {0.0, 0.02, 0.5, 1.0}) {
            const cv::Mat ink = specks(size.width, size.height, share, 7);
            const std::string what = fmt::format("{} x {}, {}", size.width, size.height, share);
            expect_exact(ink, jbig2_of_pixels(ink, 300), {}, what + " as pixels");
            const Jbig2Document document = encoded({ink});
            expect_exact(ink, document.pages.front(), document.globals, what);
        }
}

TEST(Jbig2, LettersThatResembleEachOtherKeepTheirOwnPixels) {
    std::vector<cv::Mat> pages;
    for (unsigned i = 0; i < 4; ++i) pages.push_back(bad_print(text_of_letters(i, 14), 1 + 0.1 * i, 30 + i));
    // Digits of which only a few pixels tell 3 from 8, 5 from 6 and 0 from 8.
    pages.push_back(
        bad_print({"3838 8383 0808 8080 5656 6565 3353 8868", "0380 8306 5830 6583 8888 3333 0000 5555"}, 0.6, 9));
    const Jbig2Document document = encoded(pages);
    ASSERT_EQ(document.pages.size(), pages.size());
    for (size_t i = 0; i < pages.size(); ++i)
        expect_exact(pages[i], document.pages[i], document.globals, fmt::format("page {}", i + 1));
}

TEST(Jbig2, EqualLettersAreStoredOnceForAllPages) {
    std::vector<cv::Mat> pages;
    for (unsigned i = 0; i < 3; ++i) {
        cv::Mat page = no_ink(1240, 900);
        const auto lines = text_of_letters(100 + i, 14);
        for (size_t k = 0; k < lines.size(); ++k)
            cv::putText(page, lines[k], {40, 70 + 60 * static_cast<int>(k)}, cv::FONT_HERSHEY_SIMPLEX, 1, 255, 3);
        pages.push_back(page);
    }
    const Jbig2Document together = encoded(pages);
    size_t alone = 0;
    for (const cv::Mat& page : pages) alone += bytes_of(encoded({page}));
    for (size_t i = 0; i < pages.size(); ++i)
        expect_exact(pages[i], together.pages[i], together.globals, fmt::format("page {}", i + 1));
    EXPECT_LT(bytes_of(together), 0.85 * static_cast<double>(alone));
    EXPECT_LT(bytes_of(together), 0.25 * static_cast<double>(bytes_as_g4(pages)));
}

// Refinements have a bit for each symbol of a region that has any (6.4.5), and none in other regions.
TEST(Jbig2, APageOfEqualLettersMayStandBesideAPageOfWornOnes) {
    cv::Mat equal = no_ink(1240, 300);
    for (int i = 0; i < 4; ++i) cv::putText(equal, "lllloooo", {40, 60 + 60 * i}, cv::FONT_HERSHEY_SIMPLEX, 1, 255, 3);
    const cv::Mat worn = bad_print({"lllloooo", "oooollll", "lolololo"}, 1, 3);
    const Jbig2Document document = encoded({equal, worn, equal});
    for (size_t i = 0; i < 3; ++i)
        expect_exact(i == 1 ? worn : equal, document.pages[i], document.globals, fmt::format("page {}", i + 1));
}

// A shape that occurs often is stored once, as a refinement of another one (6.5.8.2).
TEST(Jbig2, ARepeatedVariantOfALetterIsStoredOnce) {
    cv::Mat letter = no_ink(40, 40);
    cv::putText(letter, "R", {4, 34}, cv::FONT_HERSHEY_SIMPLEX, 1, 255, 3);
    cv::Mat other = letter.clone();
    for (const cv::Point at : {cv::Point(6, 20), {20, 20}, {22, 31}}) other.at<uchar>(at) = 255 - other.at<uchar>(at);
    const auto page_with = [&](int others) {
        cv::Mat page = no_ink(1240, 400);
        for (int i = 0; i < 160; ++i)
            (i < others ? other : letter).copyTo(page(cv::Rect(20 + i % 20 * 60, 10 + i / 20 * 45, 40, 40)));
        const Jbig2Document document = encoded({page});
        expect_exact(page, document.pages.front(), document.globals, fmt::format("{} others", others));
        return bytes_of(document);
    };
    const size_t few = page_with(20), many = page_with(60);
    EXPECT_LT(many, few + 40 / 2) << "forty more of them take less than half a byte each";
}

// Letters at the edges of the page, where their symbols' margins reach beyond it, and with steps between them that take
// the longest form of integers (table A.1).
TEST(Jbig2, LettersMayTouchTheEdgesAndLieFarApart) {
    cv::Mat page = no_ink(20'000, 400);
    cv::Mat letter = no_ink(24, 30);
    cv::putText(letter, "R", {1, 26}, cv::FONT_HERSHEY_SIMPLEX, 1, 255, 3);
    letter = letter(cv::boundingRect(letter));
    for (const int x : {0, 100, 9000, 20'000 - letter.cols})
        for (const int y : {0, 77, 400 - letter.rows}) letter.copyTo(page(cv::Rect({x, y}, letter.size())));
    cv::Mat worn = letter.clone();
    worn.at<uchar>(3, 3) = worn.at<uchar>(3, 3) ? 0 : 255;
    worn.copyTo(page(cv::Rect({15'000, 200}, letter.size())));
    const Jbig2Document document = encoded({page});
    EXPECT_FALSE(document.globals.empty());
    expect_exact(page, document.pages.front(), document.globals, "letters at the edges");
}

TEST(Jbig2, AHalftoneIsStoredAsPixels) {
    cv::Mat page = no_ink(1600, 1600);
    for (int y = 4; y < page.rows; y += 8)
        for (int x = 4; x < page.cols; x += 8) cv::circle(page, {x, y}, 1 + (x + y) / 16 % 3, 255, cv::FILLED);
    const Jbig2Document document = encoded({page});
    EXPECT_TRUE(document.globals.empty()) << "its 40000 dots are no letters";
    EXPECT_EQ(document.pages.front(), jbig2_of_pixels(page, 300));
    expect_exact(page, document.pages.front(), {}, "a halftone");
}

TEST(Jbig2, AnEncoderIsEmptyAfterItsPagesWereTaken) {
    Jbig2Encoder encoder;
    const cv::Mat page = bad_print(text_of_letters(5, 3), 1, 5);
    encoder.add(page, 300);
    const Jbig2Document first = encoder.finish();
    EXPECT_EQ(encoder.page_count(), 0U);
    encoder.add(page, 300);
    const Jbig2Document second = encoder.finish();
    EXPECT_EQ(first.globals, second.globals);
    EXPECT_EQ(first.pages, second.pages);
}

}
}
