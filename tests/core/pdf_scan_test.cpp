// Pages of PDFs that contain scans are read as the pixels in the file. The PDFs are made byte by byte here, by
// libtiff's tiff2pdf and by ourselves; the result must be what was put in, or what libjpeg makes of it.
#include "core/output/document_writer.h"
#include "core/raster/image_file.h"
#include "core/raster/page_file.h"
#include "core/raster/png_jpeg.h"
#include "core/ticket/ticket.h"
#include "support/support.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <opencv2/imgproc.hpp>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

namespace yelvin::test {
namespace {

constexpr int width_px = 304, height_px = 440; // at 150 dpi a small sheet
constexpr double dpi = 150;

Raster page_of(Ink ink) {
    cv::Mat pixels = noisy(width_px, height_px, ink == Ink::Colour ? CV_8UC3 : CV_8UC1, 5);
    if (ink == Ink::Black) cv::threshold(pixels, pixels, 127, 255, cv::THRESH_BINARY);
    cv::circle(pixels, {40, 60}, 20, cv::Scalar::all(0), cv::FILLED); // tells the corners apart
    return {pixels, dpi, ink};
}

std::string samples(const cv::Mat& pixels) {
    cv::Mat rgb = pixels.clone();
    if (rgb.channels() == 3) cv::cvtColor(rgb, rgb, cv::COLOR_BGR2RGB);
    return {reinterpret_cast<const char*>(rgb.data), rgb.total() * rgb.elemSize()};
}

std::string bits(const cv::Mat& black) {
    std::string out;
    for (int y = 0; y < black.rows; ++y)
        for (int x = 0; x < black.cols; x += 8) {
            unsigned byte = 0;
            for (int i = 0; i < 8; ++i) byte = byte << 1U | (x + i < black.cols && black.at<uchar>(y, x + i) > 127);
            out += static_cast<char>(byte);
        }
    return out;
}

std::string high_first(std::uint32_t value, int count) {
    std::string out;
    for (int i = count; i-- > 0;) out += static_cast<char>(value >> (8 * i) & 0xFFU);
    return out;
}

// ITU-T T.88, 7.2 and 7.4: page information (type 48), then one generic region (type 38) whose coding is T.6.
std::string jbig2_of(const Raster& black) {
    const std::string fax = *encode_g4(black);
    const auto wide = static_cast<std::uint32_t>(black.width_px()),
               high = static_cast<std::uint32_t>(black.height_px());
    const auto segment = [](std::uint32_t number, int type, const std::string& data) {
        return high_first(number, 4) + static_cast<char>(type) + std::string("\0\1", 2) +
               high_first(static_cast<std::uint32_t>(data.size()), 4) + data;
    };
    const std::string size = high_first(wide, 4) + high_first(high, 4);
    const std::string page = size + std::string(8, '\0') + std::string("\0\0\0", 3);
    const std::string region = size + std::string(8, '\0') + std::string("\0\1", 2) + fax; // MMR
    return segment(0, 48, page) + segment(1, 38, region);
}

std::string jpeg2000_of(const Raster& page) {
    const TempFolder folder;
    write_file(folder / "page.png", *encode_png(page));
    run({"convert", (folder / "page.png").string(), "-define", "jp2:rate=1", "-quality", "100",
         (folder / "page.jp2").string()});
    return read_file(folder / "page.jp2");
}

// A PDF of one page, from the dictionaries and data of its pictures and its content stream.
class Pdf {
  public:
    Pdf(double width_pt, double height_pt) {
        pdf_.emptyPDF();
        page_ = pdf_.makeIndirectObject(QPDFObjectHandle::parse(fmt::format(
            "<< /Type /Page /MediaBox [0 0 {} {}] /Resources << /XObject << >> /Font << /F1 << /Type /Font /Subtype "
            "/Type1 /BaseFont /Helvetica >> >> >> >>",
            width_pt, height_pt)));
        pdf_.addPage(page_, false);
    }
    QPDFObjectHandle picture(const std::string& name, int wide, int high, const std::string& about,
                             const std::string& data) {
        QPDFObjectHandle stream = QPDFObjectHandle::newStream(&pdf_, data);
        QPDFObjectHandle dictionary = QPDFObjectHandle::parse(
            fmt::format("<< /Type /XObject /Subtype /Image /Width {} /Height {} {} >>", wide, high, about));
        for (const std::string& key : dictionary.getKeys()) stream.getDict().replaceKey(key, dictionary.getKey(key));
        page_.getKey("/Resources").getKey("/XObject").replaceKey("/" + name, stream);
        return stream;
    }
    QPDFObjectHandle page() { return page_; }
    QPDF& document() { return pdf_; }
    std::filesystem::path saved(const TempFolder& folder, const std::string& content, bool packed = true) {
        page_.replaceKey("/Contents", QPDFObjectHandle::newStream(&pdf_, content));
        const auto file = folder / "page.pdf";
        QPDFWriter writer(pdf_, file.c_str());
        writer.setStreamDataMode(packed ? qpdf_s_compress : qpdf_s_preserve);
        writer.write();
        return file;
    }

  private:
    QPDF pdf_;
    QPDFObjectHandle page_;
};

constexpr double wide_pt = width_px * 72.0 / dpi, high_pt = height_px * 72.0 / dpi;
const std::string whole_page = fmt::format("q {} 0 0 {} 0 0 cm /P Do Q", wide_pt, high_pt);

void expect_pixels(const Result<LoadedPage>& read, const Raster& expected, const std::string& which) {
    ASSERT_TRUE(read) << which << ": " << read.error().sentence;
    ASSERT_EQ(read->raster.pixels.size(), expected.pixels.size()) << which;
    ASSERT_EQ(read->raster.pixels.type(), expected.pixels.type()) << which;
    EXPECT_EQ(cv::norm(read->raster.pixels, expected.pixels, cv::NORM_INF), 0) << which;
    EXPECT_EQ(read->raster.ink, expected.ink) << which;
    EXPECT_EQ(read->raster.dpi, expected.dpi) << which;
    EXPECT_EQ(read->damage, "") << which;
}

struct Coding {
    std::string name, about, data;
    Raster pixels;
};

std::vector<Coding> codings() {
    const Raster colour = page_of(Ink::Colour), grey = page_of(Ink::Grey), black = page_of(Ink::Black);
    const std::string fax =
        fmt::format("/Filter /CCITTFaxDecode /DecodeParms << /K -1 /Columns {} /Rows {} >> ", width_px, height_px);
    const std::string one = "/ColorSpace /DeviceGray /BitsPerComponent 1 ",
                      eight = "/ColorSpace /DeviceGray /BitsPerComponent 8 ",
                      three = "/ColorSpace /DeviceRGB /BitsPerComponent 8 ";
    cv::Mat nibbles = (grey.pixels & 0xF0) / 16, spread = nibbles * 17;
    std::string four, sixteen;
    for (int i = 0; i < width_px * height_px; i += 2)
        four += static_cast<char>(nibbles.data[i] << 4 | nibbles.data[i + 1]);
    for (const char c : samples(grey.pixels)) sixteen += c, sixteen += '\x5A';
    const auto as_grey = [](const cv::Mat& pixels) { return Raster{pixels, dpi, Ink::Grey}; };
    std::vector<Coding> all{
        {"samples, grey", eight, samples(grey.pixels), grey},
        {"samples, colour", three, samples(colour.pixels), colour},
        {"samples, black", one, bits(black.pixels), black},
        {"samples, turned round", eight + "/Decode [1 0]", samples(cv::Mat(255 - grey.pixels)), grey},
        {"samples of 4 bits", "/ColorSpace /DeviceGray /BitsPerComponent 4", four, as_grey(spread)},
        {"samples of 16 bits", "/ColorSpace /DeviceGray /BitsPerComponent 16", sixteen, grey},
        {"fax", one + fax, *encode_g4(black), black},
        {"fax, black is 1", one + "/Filter /CCITTFaxDecode /DecodeParms << /K -1 /BlackIs1 true /Columns 304 >>",
         *encode_g4({255 - black.pixels, dpi, Ink::Black}), black},
        {"stencil", "/ImageMask true /BitsPerComponent 1 " + fax, *encode_g4(black), black},
        {"JBIG2", one + "/Filter /JBIG2Decode", jbig2_of(black), black},
        {"JPEG 2000, colour", three + "/Filter /JPXDecode", jpeg2000_of(colour), colour},
        {"JPEG 2000, grey", eight + "/Filter /JPXDecode", jpeg2000_of(grey), grey},
        {"two colours", "/ColorSpace [/Indexed /DeviceGray 1 <FF00>] /BitsPerComponent 1", bits(255 - black.pixels),
         black}};
    for (const auto& [ink, space] : {std::pair(Ink::Grey, eight), std::pair(Ink::Colour, three)}) {
        const std::string bytes = *encode_jpeg(ink == Ink::Grey ? grey : colour, 80);
        Raster pixels = decode_jpeg(bytes)->raster;
        pixels.dpi = dpi;
        all.push_back({fmt::format("JPEG, {}", ink_word(ink)), space + "/Filter /DCTDecode", bytes, pixels});
    }
    return all;
}

TEST(PdfScan, EveryCodingGivesThePixelsOfTheFile) {
    const TempFolder folder;
    for (const Coding& coding : codings()) {
        Pdf pdf(wide_pt, high_pt);
        pdf.picture("P", width_px, height_px, coding.about, coding.data);
        expect_pixels(read_page(pdf.saved(folder, whole_page, false)), coding.pixels, coding.name);
        const auto opened = PageFile::open(folder / "page.pdf");
        ASSERT_TRUE(opened) << coding.name;
        EXPECT_FALSE(opened->drawing(0)) << coding.name;
    }
}

// The picture's matrix and the page's /Rotate, compared with OpenCV's rotation.
TEST(PdfScan, ATurnedOrMirroredPageIsReadAsShown) {
    const TempFolder folder;
    const Raster page = page_of(Ink::Grey);
    const std::vector<std::pair<std::string, int>> mirrored{
        {fmt::format("q {0} 0 0 {1} 0 0 cm /P Do Q", wide_pt, high_pt), 2}, // 2: not mirrored
        {fmt::format("q -{0} 0 0 {1} {0} 0 cm /P Do Q", wide_pt, high_pt), 1},
        {fmt::format("q {0} 0 0 -{1} 0 {1} cm /P Do Q", wide_pt, high_pt), 0},
        {fmt::format("q -1 0 0 -1 {0} {1} cm {0} 0 0 {1} 0 0 cm /P Do Q", wide_pt, high_pt), -1}};
    for (const auto& [content, flip] : mirrored) {
        for (const int turned : {0, 90, 180, 270, -90}) {
            Pdf pdf(wide_pt, high_pt);
            pdf.picture("P", width_px, height_px, "/ColorSpace /DeviceGray /BitsPerComponent 8", samples(page.pixels));
            pdf.page().replaceKey("/Rotate", QPDFObjectHandle::newInteger(turned));
            Raster expected = page;
            if (flip < 2) cv::flip(page.pixels, expected.pixels, flip);
            const int way = (turned + 360) % 360;
            if (way != 0)
                cv::rotate(expected.pixels, expected.pixels,
                           way == 90    ? cv::ROTATE_90_CLOCKWISE
                           : way == 180 ? cv::ROTATE_180
                                        : cv::ROTATE_90_COUNTERCLOCKWISE);
            expect_pixels(read_page(pdf.saved(folder, content)), expected, fmt::format("{} {}", content, turned));
        }
    }
    // A matrix that turns the picture upright, as scanners write it for a sheet that was fed sideways.
    Pdf pdf(high_pt, wide_pt);
    pdf.picture("P", width_px, height_px, "/ColorSpace /DeviceGray /BitsPerComponent 8", samples(page.pixels));
    Raster expected = page;
    cv::rotate(page.pixels, expected.pixels, cv::ROTATE_90_COUNTERCLOCKWISE);
    expect_pixels(read_page(pdf.saved(folder, fmt::format("q 0 {} -{} 0 {} 0 cm /P Do Q", wide_pt, high_pt, high_pt))),
                  expected, "by the matrix");
}

TEST(PdfScan, StripsAndTilesBecomeOnePage) {
    const TempFolder folder;
    const Raster page = page_of(Ink::Colour);
    for (const cv::Size tile : {cv::Size(width_px, 37), cv::Size(width_px, 100), cv::Size(100, 128)}) {
        Pdf pdf(wide_pt, high_pt);
        std::string content;
        int count = 0;
        for (int y = 0; y < height_px; y += tile.height)
            for (int x = 0; x < width_px; x += tile.width) {
                const cv::Rect at(x, y, std::min(tile.width, width_px - x), std::min(tile.height, height_px - y));
                const std::string name = fmt::format("T{}", count++);
                pdf.picture(name, at.width, at.height, "/ColorSpace /DeviceRGB /BitsPerComponent 8",
                            samples(page.pixels(at).clone()));
                content += fmt::format("q {:.2f} 0 0 {:.2f} {:.2f} {:.2f} cm /{} Do Q\n", at.width * 72 / dpi,
                                       at.height * 72 / dpi, x * 72 / dpi, high_pt - at.br().y * 72 / dpi, name);
            }
        expect_pixels(read_page(pdf.saved(folder, content)), page,
                      fmt::format("tiles of {}x{}", tile.width, tile.height));
    }
}

TEST(PdfScan, AStencilOverABackgroundKeepsItsPixels) {
    const TempFolder folder;
    const Raster letters = page_of(Ink::Black);
    const cv::Mat background(height_px / 4, width_px / 4, CV_8UC3, cv::Scalar(180, 220, 240));
    Raster expected{cv::Mat(height_px, width_px, CV_8UC3, cv::Scalar(180, 220, 240)), dpi, Ink::Colour};
    expected.pixels.setTo(cv::Scalar(102, 0, 51), letters.pixels == 0);
    for (const bool soft : {false, true}) {
        Pdf pdf(wide_pt, high_pt);
        pdf.picture("B", width_px / 4, height_px / 4, "/ColorSpace /DeviceRGB /BitsPerComponent 8",
                    samples(background));
        std::string over = "0.2 0 0.4 rg";
        if (soft) { // an inked layer seen through a mask of the letters
            const cv::Mat ink(10, 8, CV_8UC3, cv::Scalar(102, 0, 51));
            pdf.picture("P", 8, 10, "/ColorSpace /DeviceRGB /BitsPerComponent 8", samples(ink))
                .getDict()
                .replaceKey("/SMask",
                            pdf.picture("M", width_px, height_px, "/ColorSpace /DeviceGray /BitsPerComponent 1",
                                        bits(255 - letters.pixels)));
            over.clear();
        } else {
            pdf.picture("P", width_px, height_px, "/ImageMask true /BitsPerComponent 1", bits(letters.pixels));
        }
        const std::string content =
            fmt::format("q {0} 0 0 {1} 0 0 cm /B Do Q {2} {3}", wide_pt, high_pt, over, whole_page);
        expect_pixels(read_page(pdf.saved(folder, content)), expected, soft ? "soft mask" : "stencil");
    }
}

// Sizes in whole points, pictures that reach beyond the page, and a picture that is cropped by the crop box.
TEST(PdfScan, ThePageSizeCropsThePicture) {
    const TempFolder folder;
    const cv::Mat pixels = noisy(2480, 350, CV_8UC1, 3);
    Pdf rounded(595, 84);
    rounded.picture("P", 2480, 350, "/ColorSpace /DeviceGray /BitsPerComponent 8", samples(pixels));
    expect_pixels(read_page(rounded.saved(folder, "0 0 595 84 re W n 595 0 0 84 0 0 cm /P Do")),
                  {pixels, 300, Ink::Grey}, "whole points");
    const Raster page = page_of(Ink::Grey);
    Pdf cut(wide_pt, high_pt);
    cut.picture("P", width_px, height_px, "/ColorSpace /DeviceGray /BitsPerComponent 8", samples(page.pixels));
    cut.page().replaceKey("/CropBox", QPDFObjectHandle::parse(fmt::format("[{} {} {} {}]", 24 * 72 / dpi, 40 * 72 / dpi,
                                                                          224 * 72 / dpi, 400 * 72 / dpi)));
    expect_pixels(read_page(cut.saved(folder, whole_page)),
                  {page.pixels(cv::Rect(24, height_px - 400, 200, 360)).clone(), dpi, Ink::Grey}, "cropped");
}

TEST(PdfScan, FilesOfOtherProgramsAndOursKeepEveryPixel) {
    const TempFolder folder;
    const Raster black = scan("lease-1", 0, 150, Ink::Black), colour = scan("photo-top-lock", 0, 100, Ink::Colour);
    write_file(folder / "black.tif", *encode_tiff(black));
    write_file(folder / "colour.tif", *encode_tiff(colour, TiffCoding::Lzw));
    const auto pdf = (folder / "made.pdf").string();
    for (const auto& [name, page] : {std::pair("black.tif", black), std::pair("colour.tif", colour)}) {
        const auto tiff = (folder / name).string();
        for (const std::vector<std::string>& how : {std::vector<std::string>{}, {"-z"}, {"-n"}}) {
            std::vector<std::string> command{"tiff2pdf", "-o", pdf};
            command.insert(command.end(), how.begin(), how.end());
            command.push_back(tiff);
            EXPECT_EQ(run(command).status, 0);
            expect_pixels(read_page(pdf), page, fmt::format("{} {}", name, fmt::join(how, " ")));
        }
    }
    for (const auto& page : {black, colour}) {
        const auto writer = new_pdf_writer(folder / "own.pdf", {"Lease"});
        ASSERT_TRUE(writer->append(*encode_page(page, TextLayer{}, Format::Pdf, 85)));
        ASSERT_TRUE(writer->finish());
        run({"pdfimages", "-all", (folder / "own.pdf").string(), (folder / "out").string()}); // as poppler takes it out
        const bool is_black = page.ink == Ink::Black;
        Raster expected = page;
        if (!is_black) expected.pixels = decode_jpeg(read_file(folder / "out-000.jpg"))->raster.pixels;
        expect_pixels(read_page(folder / "own.pdf"), expected, "our own");
    }
}

// ---- pages that are not scans

const std::string words_alone = "BT /F1 8 Tf 20 100 Td (The gate at Cobble Reach is shut) Tj ET";

TEST(PdfScan, VisibleTextOverAPictureIsRenderedSharply) {
    const TempFolder folder;
    const cv::Mat letterhead(146, 100, CV_8UC3, cv::Scalar(250, 240, 230)); // 50 dpi over the page
    Pdf pdf(wide_pt, high_pt);
    pdf.picture("P", 100, 146, "/ColorSpace /DeviceRGB /BitsPerComponent 8", samples(letterhead));
    const auto file = pdf.saved(folder, whole_page + "\n0 g " + words_alone);
    const auto read = read_page(file);
    ASSERT_TRUE(read);
    EXPECT_EQ(read->raster.dpi, 300);
    EXPECT_EQ(read->raster.ink, Ink::Colour);
    EXPECT_NEAR(read->raster.width_px(), width_px * 2, 1);
    const auto opened = PageFile::open(file);
    ASSERT_TRUE(opened);
    EXPECT_TRUE(opened->drawing(0)) << "and goes into a PDF as it was drawn";
    // A ruled line makes a drawing, as a word does; an annotation leaves marks too.
    EXPECT_EQ(read_page(pdf.saved(folder, whole_page + "\n0 G 2 w 10 10 m 100 10 l S"))->raster.dpi, 300);
    EXPECT_NEAR(read_page(pdf.saved(folder, whole_page))->raster.dpi, 50, 0.5) << "the picture alone";
}

// Invisible words: in text mode 3, or below the picture.
TEST(PdfScan, InvisibleTextDoesNotMakeAPageADrawing) {
    const TempFolder folder;
    const Raster page = page_of(Ink::Grey);
    for (const std::string& content : {whole_page + " 3 Tr " + words_alone, words_alone + "\n" + whole_page,
                                       fmt::format("1 g 0 0 {} {} re f ", wide_pt, high_pt) + whole_page}) {
        Pdf pdf(wide_pt, high_pt);
        pdf.picture("P", width_px, height_px, "/ColorSpace /DeviceGray /BitsPerComponent 8", samples(page.pixels));
        expect_pixels(read_page(pdf.saved(folder, content)), page, content);
    }
}

// A page whose pixels cannot be taken is drawn instead, and it is reported if something is missing.
TEST(PdfScan, APageThatCannotBeExtractedIsRendered) {
    const TempFolder folder;
    const Raster page = page_of(Ink::Grey);
    const std::string grey = "/ColorSpace /DeviceGray /BitsPerComponent 8";
    const std::vector<std::tuple<std::string, std::string, std::string>> odd{
        {"printing inks", "/ColorSpace /DeviceCMYK /BitsPerComponent 8",
         samples(page_of(Ink::Colour).pixels) + samples(page.pixels)},
        {"a colour key", grey + " /Mask [0 3]", samples(page.pixels)},
        {"half of the data", grey, samples(page.pixels).substr(0, width_px * height_px / 2)},
        {"an unknown space", "/ColorSpace [/Separation /Ink] /BitsPerComponent 8", samples(page.pixels)},
        {"no fax",
         "/ColorSpace /DeviceGray /BitsPerComponent 1 /Filter /CCITTFaxDecode /DecodeParms << /K -1 /Columns 304 >>",
         "nonsense"},
        {"no JBIG2", "/ColorSpace /DeviceGray /BitsPerComponent 1 /Filter /JBIG2Decode", "nonsense"},
        {"no JPEG 2000", grey + " /Filter /JPXDecode", "nonsense"}};
    for (const auto& [name, about, data] : odd) {
        Pdf pdf(wide_pt, high_pt);
        pdf.picture("P", width_px, height_px, about, data);
        const auto read = read_page(pdf.saved(folder, whole_page, false));
        ASSERT_TRUE(read) << name;
        EXPECT_EQ(read->raster.pixels.size(), page.pixels.size()) << name;
    }
    // 100 MB of zeros in a few bytes, declared as a picture of 304 x 440 pixels: no more is decompressed than that.
    Pdf bomb(wide_pt, high_pt);
    bomb.picture("P", width_px, height_px, grey, std::string(100'000'000, '\0'));
    EXPECT_TRUE(read_page(bomb.saved(folder, whole_page)));
    // A form XObject that draws itself.
    Pdf loop(wide_pt, high_pt);
    QPDFObjectHandle form = QPDFObjectHandle::newStream(&loop.document(), "/F Do /F Do /F Do");
    form.getDict().replaceKey("/Subtype", QPDFObjectHandle::newName("/Form"));
    form.getDict().replaceKey("/BBox", QPDFObjectHandle::parse("[0 0 100 100]"));
    loop.page().getKey("/Resources").getKey("/XObject").replaceKey("/F", form);
    EXPECT_TRUE(read_page(loop.saved(folder, "/F Do")));
}

// ---- unchanged in a new file

std::string raw_bytes(const std::filesystem::path& pdf, const std::string& filter) {
    QPDF file;
    file.setSuppressWarnings(true);
    file.processFile(pdf.c_str());
    for (QPDFObjectHandle& object : file.getAllObjects()) {
        if (!object.isStream() || !object.getDict().getKey("/Filter").isNameAndEquals(filter)) continue;
        if (!object.getDict().getKey("/Subtype").isNameAndEquals("/Image")) continue;
        const auto buffer = object.getRawStreamData();
        return {reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize()};
    }
    return {};
}

TEST(PdfScan, ItsPicturesAreCopiedToANewFileByteForByte) {
    const TempFolder folder;
    TextLayer words{{}, width_px, height_px, "eng"};
    TextLine line;
    line.words = {{"Cobble", {20, 200, 60, 20}, 90}, {"Reach", {90, 200, 50, 20}, 90}};
    line.baseline_start = {20, 216}, line.baseline_end = {140, 216};
    line.ascent_px = 16, line.descent_px = 4;
    words.lines = {line};
    for (const Coding& coding : codings()) {
        for (const int turned : {0, 90}) {
            Pdf pdf(wide_pt, high_pt);
            pdf.picture("P", width_px, height_px, coding.about + " /Name /Old /Interpolate true", coding.data);
            pdf.page().replaceKey("/Rotate", QPDFObjectHandle::newInteger(turned));
            const auto from = pdf.saved(folder, whole_page + " 3 Tr " + words_alone, false);
            const auto opened = PageFile::open(from);
            const auto pictures = opened->pictures(0);
            ASSERT_TRUE(pictures) << coding.name;
            for (const Format format : {Format::Pdf, Format::PdfA}) {
                if (!takes_pictures(format, *pictures)) continue;
                Ticket::Make make;
                make.format = format;
                const auto page = opened->page(0);
                const auto to = folder / "new.pdf";
                const auto writer = new_document_writer(to, format, {"Lease", make});
                ASSERT_TRUE(writer->append(*with_pictures(page->raster, as_it_was_read(words), make, *pictures)));
                const auto finished = writer->finish();
                ASSERT_TRUE(finished) << coding.name << finished.error().sentence << finished.error().detail;
                const size_t at = coding.about.find("/Filter ");
                if (at != std::string::npos) {
                    const std::string filter =
                        coding.about.substr(at + 8, coding.about.find_first_of(" ]", at + 8) - at - 8);
                    EXPECT_EQ(raw_bytes(to, filter), coding.data) << coding.name << " as it came";
                }
                expect_pixels(read_page(to), page->raster, coding.name + ", written and read again");
                EXPECT_EQ(run({"qpdf", "--check", to.string()}).status, 0) << coding.name;
                EXPECT_TRUE(text_of_pdf(to).starts_with("Cobble Reach\n\n")) << "its words are ours alone";
            }
        }
    }
}

}
}
