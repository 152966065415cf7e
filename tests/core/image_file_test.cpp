// Codecs, checked with files that ImageMagick and libtiff wrote or read, and with every kind of damaged file.
#include "core/raster/image_file.h"

#include "core/raster/page_file.h"
#include "core/raster/pix.h"
#include "core/raster/tiff_rows.h"
#include "support/support.h"

namespace yelvin::test {
namespace {

Raster picture(Ink ink) {
    cv::Mat pixels = noisy(120, 80, ink == Ink::Colour ? CV_8UC3 : CV_8UC1, 7);
    if (ink == Ink::Black) pixels = pixels > 127;
    return {pixels, 300, ink};
}

void expect_same(const Raster& a, const Raster& b) {
    ASSERT_EQ(a.pixels.size(), b.pixels.size());
    ASSERT_EQ(a.pixels.type(), b.pixels.type());
    EXPECT_EQ(cv::norm(a.pixels, b.pixels, cv::NORM_INF), 0);
    EXPECT_EQ(a.ink, b.ink);
    EXPECT_NEAR(a.dpi, b.dpi, 0.02); // PNG stores whole pixels per metre
}

TEST(ImageFile, PngAndTiffKeepEveryPixelAndTheResolution) {
    const TempFolder folder;
    for (const Ink ink : {Ink::Colour, Ink::Grey, Ink::Black}) {
        for (const double dpi : {75.0, 300.0, 1200.0}) {
            Raster raster = picture(ink);
            raster.dpi = dpi;
            write_file(folder / "a.png", *encode_png(raster));
            write_file(folder / "a.tif", *encode_tiff(raster));
            for (const char* name : {"a.png", "a.tif"}) {
                const auto read = read_page(folder / name);
                ASSERT_TRUE(read) << read.error().sentence;
                EXPECT_TRUE(read->resolution_known);
                expect_same(read->raster, raster);
            }
        }
    }
}

TEST(ImageFile, OtherProgramsReadTheSameSizeAndResolution) {
    const TempFolder folder;
    write_file(folder / "a.png", *encode_png(picture(Ink::Colour)));
    write_file(folder / "a.jpg", *encode_jpeg(picture(Ink::Colour), 90));
    write_file(folder / "a.tif", *encode_tiff(picture(Ink::Black)));
    for (const char* name : {"a.png", "a.jpg", "a.tif"}) {
        const Ran seen = run({"identify", "-units", "PixelsPerInch", "-format", "%w %h %[fx:round(resolution.x)]",
                              (folder / name).string()});
        EXPECT_EQ(seen.out, "120 80 300") << name << seen.err;
    }
    const Ran tiff = run({"tiffinfo", (folder / "a.tif").string()});
    EXPECT_NE(tiff.out.find("CCITT Group 4"), std::string::npos) << tiff.out;
}

// Compared with Leptonica's own encoder, which uses the same settings for every picture.
TEST(ImageFile, PngsOfScannedAndDrawnPagesAreSmall) {
    const auto usual = [](const Raster& page) {
        l_uint8* bytes = nullptr;
        size_t size = 0;
        pixWriteMemPng(&bytes, &size, to_pix(page).get(), 0);
        lept_free(bytes);
        return static_cast<double>(size);
    };
    for (const char* paper : {"photo-top-lock", "lease-1"}) {
        const Raster page = scan(paper, 0, 100, Ink::Colour);
        EXPECT_LT(static_cast<double>(encode_png(page)->size()), 0.98 * usual(page)) << paper;
    }
    Raster page{cv::Mat(1100, 800, CV_8UC3, cv::Scalar::all(255)), 100, Ink::Colour};
    for (int line = 0; line < 40; ++line)
        cv::putText(page.pixels, "The gate at Cobble Reach is shut", {60, 60 + 25 * line}, cv::FONT_HERSHEY_SIMPLEX,
                    0.8, {90, 40, 20}, 1, cv::LINE_AA);
    EXPECT_LT(static_cast<double>(encode_png(page)->size()), 1.02 * usual(page));
}

TEST(ImageFile, JpegIsAccurateAndSmallerWithLowerQuality) {
    const TempFolder folder;
    const Raster page = scan("photo-top-lock", 0, 100, Ink::Colour);
    const std::string fine = *encode_jpeg(page, 95), coarse = *encode_jpeg(page, 40);
    EXPECT_LT(coarse.size() * 2, fine.size());
    write_file(folder / "fine.jpg", fine);
    const auto read = read_page(folder / "fine.jpg");
    ASSERT_TRUE(read);
    EXPECT_LT(cv::norm(read->raster.pixels, page.pixels, cv::NORM_L1) / static_cast<double>(page.pixels.total() * 3),
              3.0);
}

// Pictures of other programs: palettes, 16 bits, transparency, faxes with oblong pixels, many pages.
TEST(ImageFile, ReadsFilesOfOtherPrograms) {
    const TempFolder folder;
    const auto make = [&](const std::string& name, std::vector<std::string> arguments) {
        arguments.insert(arguments.begin(), "convert");
        arguments.push_back((folder / name).string());
        ASSERT_EQ(run(arguments).status, 0) << name;
    };
    const std::vector<std::string> base{"-size",    "60x40", "gradient:red-blue", "-units", "PixelsPerInch",
                                        "-density", "200"};
    const auto with = [&](std::vector<std::string> more) {
        std::vector<std::string> all = base;
        all.insert(all.end(), more.begin(), more.end());
        return all;
    };
    make("palette.png", with({"-type", "Palette"}));
    make("deep.png", with({"-depth", "16", "-colorspace", "Gray"}));
    make("clear.png", with({"-alpha", "set", "-channel", "A", "-evaluate", "set", "50%"}));
    make("picture.webp", with({}));
    make("picture.bmp", with({}));
    make("bilevel.tif", with({"-monochrome", "-compress", "Group4"}));
    for (const char* name : {"palette.png", "deep.png", "clear.png", "picture.webp", "picture.bmp", "bilevel.tif"}) {
        const auto read = read_page(folder / name);
        ASSERT_TRUE(read) << name << ": " << read.error().sentence;
        EXPECT_EQ(read->raster.width_px(), 60) << name;
        EXPECT_EQ(read->raster.height_px(), 40) << name;
    }
    EXPECT_EQ(read_page(folder / "deep.png")->raster.ink, Ink::Grey);
    EXPECT_EQ(read_page(folder / "bilevel.tif")->raster.ink, Ink::Black);
    const cv::Vec3b half_red = read_page(folder / "clear.png")->raster.pixels.at<cv::Vec3b>(0, 0);
    EXPECT_NEAR(half_red[0], 127, 3) << "half transparent red lies on white paper";

    make("fax.tif", {"-size", "204x98", "xc:white", "-units", "PixelsPerInch", "-density", "204x98", "-compress",
                     "Group4", "-monochrome"});
    const auto fax = read_page(folder / "fax.tif");
    ASSERT_TRUE(fax);
    EXPECT_NEAR(fax->raster.size_mm().width, 25.4, 0.2);
    EXPECT_NEAR(fax->raster.size_mm().height, 25.4, 0.3) << "pixels are made square";

    make("many.tif", {"-size", "30x30", "xc:red", "xc:green", "xc:blue"});
    EXPECT_EQ(*count_pages(folder / "many.tif"), 3);
    const auto third = read_page(folder / "many.tif", 2);
    ASSERT_TRUE(third);
    EXPECT_GT(third->raster.pixels.at<cv::Vec3b>(5, 5)[0], 200);
}

// Pages of 8 x 8 grey pixels, uncompressed, each of one tone: its number modulo 256 (TIFF 6.0, section 4).
std::string tiff_of_pages(int pages) {
    std::string bytes("II*\0", 4);
    const auto put = [&](std::uint32_t value, int size) {
        for (int i = 0; i < size; ++i) bytes += static_cast<char>(value >> 8 * i & 255);
    };
    constexpr std::uint32_t entries = 9, directory = 2 + 12 * entries + 4, pixels = 64;
    put(8, 4);
    for (int page = 0; page < pages; ++page) {
        const auto at = static_cast<std::uint32_t>(bytes.size());
        put(entries, 2);
        const std::pair<std::uint32_t, std::uint32_t> tags[] = {
            {256, 8}, {257, 8}, {258, 8}, {259, 1}, {262, 1}, {273, at + directory}, {277, 1}, {278, 8}, {279, pixels}};
        for (const auto& [tag, value] : tags) put(tag, 2), put(4, 2), put(1, 4), put(value, 4);
        put(page + 1 < pages ? at + directory + pixels : 0, 4);
        bytes.append(pixels, static_cast<char>(page));
    }
    return bytes;
}

// Leptonica by itself ends with an error after the 3000th page, and walks through all pages before the wanted one.
TEST(ImageFile, ALatePageOfATiffIsReadWithoutEarlierOnes) {
    const TempFolder folder;
    write_file(folder / "many.tif", tiff_of_pages(3100));
    const auto file = PageFile::open(folder / "many.tif");
    ASSERT_TRUE(file) << file.error().sentence;
    ASSERT_EQ(file->count(), 3100);
    for (const int index : {0, 1, 255, 256, 2999, 3000, 3099}) {
        const auto page = file->page(index);
        ASSERT_TRUE(page) << index << ": " << page.error().sentence;
        EXPECT_EQ(page->raster.pixels.at<uchar>(3, 3), index % 256);
        EXPECT_EQ(page->damage, "");
    }
    EXPECT_FALSE(file->page(3100));
    EXPECT_FALSE(file->page(-1));
}

TEST(ImageFile, SaysWhenAFileHasNoResolution) {
    const TempFolder folder;
    ASSERT_EQ(run({"convert", "-size", "60x40", "xc:white", "-strip", "-define", "png:exclude-chunks=pHYs",
                   (folder / "bare.png").string()})
                  .status,
              0);
    const auto read = read_page(folder / "bare.png");
    ASSERT_TRUE(read);
    EXPECT_FALSE(read->resolution_known);
    EXPECT_EQ(read->raster.dpi, customary_dpi);
}

TEST(ImageFile, ReportsTheProblemInOneSentence) {
    const TempFolder folder;
    const std::string png = *encode_png(picture(Ink::Colour)), jpeg = *encode_jpeg(picture(Ink::Colour), 90),
                      tiff = *encode_tiff(picture(Ink::Grey));
    write_file(folder / "cut.png", png.substr(0, png.size() / 2));
    write_file(folder / "cut.jpg", jpeg.substr(0, jpeg.size() / 2));
    write_file(folder / "cut.tif", tiff.substr(0, tiff.size() / 3));
    write_file(folder / "empty.png", "");
    write_file(folder / "short.png", "\x89PNG");
    write_file(folder / "text.png", "This is a shopping list, not a picture.\n");
    write_file(folder / "dot.png", *encode_png({cv::Mat(1, 1, CV_8UC1, cv::Scalar(0)), 300, Ink::Grey}));
    std::string huge = png;
    huge.replace(16, 8, std::string("\x00\x01\x86\xA0\x00\x01\x86\xA0", 8)); // a header that says 100000 x 100000
    write_file(folder / "huge.png", huge);
    write_file(folder / "cut.pdf", "%PDF-1.4\n1 0 obj\n<< /Type");
    const std::pair<const char*, const char*> expected[] = {{"cut.png", "damaged or incomplete"},
                                                            {"cut.jpg", "damaged or incomplete"},
                                                            {"cut.tif", "damaged or incomplete"},
                                                            {"empty.png", "empty (0 bytes)"},
                                                            {"short.png", "not a picture"},
                                                            {"text.png", "not a picture"},
                                                            {"dot.png", "1 × 1 px, too small"},
                                                            {"huge.png", "100000 × 100000 px"},
                                                            {"cut.pdf", "damaged"},
                                                            {"absent.png", "does not exist"}};
    for (const auto& [name, words] : expected) {
        const auto read = read_page(folder / name);
        ASSERT_FALSE(read) << name;
        EXPECT_NE(read.error().sentence.find(words), std::string::npos) << read.error().sentence;
        EXPECT_NE(read.error().sentence.find(name), std::string::npos) << read.error().sentence;
        EXPECT_EQ(read.error().sentence.find('\n'), std::string::npos);
        EXPECT_TRUE(read.error().sentence.ends_with('.'));
    }
    EXPECT_FALSE(read_page(folder.path())) << "a folder is not a page";
}

// JFIF 1.02, page 5: units (byte 13) 1 means pixels per inch; some writers put 1 by 1 there and mean the aspect ratio.
TEST(ImageFile, OneDpiIsNoResolution) {
    const TempFolder folder;
    std::string jpeg = *encode_jpeg(picture(Ink::Grey), 80);
    ASSERT_EQ(jpeg.substr(6, 4), "JFIF");
    jpeg.replace(13, 5, std::string("\x01\x00\x01\x00\x01", 5));
    write_file(folder / "aspect.jpg", jpeg);
    const auto read = read_page(folder / "aspect.jpg");
    ASSERT_TRUE(read);
    EXPECT_FALSE(read->resolution_known);
    EXPECT_EQ(read->raster.dpi, customary_dpi);
    jpeg.replace(13, 5, std::string("\x01\x00\x0a\x00\x0a", 5));
    write_file(folder / "coarse.jpg", jpeg);
    EXPECT_EQ(read_page(folder / "coarse.jpg")->raster.dpi, 10);
}

TEST(ImageFile, EveryTruncationIsAnErrorAndNeverACrash) {
    const TempFolder folder;
    const Raster raster = picture(Ink::Grey);
    for (const std::string& whole : {*encode_png(raster), *encode_jpeg(raster, 80), *encode_tiff(raster)}) {
        write_file(folder / "whole", whole);
        const cv::Mat pixels = read_page(folder / "whole")->raster.pixels;
        int refused = 0, cuts = 0;
        for (size_t length = 1; length < whole.size(); length += whole.size() / 23 + 1, ++cuts) {
            write_file(folder / "cut", whole.substr(0, length));
            const auto read = read_page(folder / "cut");
            refused += !read;
            if (!read || !read->damage.empty()) continue;
            EXPECT_EQ(cv::norm(read->raster.pixels, pixels, cv::NORM_INF), 0)
                << "what is read is whole, or said not to be: " << length << " of " << whole.size();
        }
        EXPECT_GT(refused, cuts / 2);
    }
}

TEST(PdfPages, AreReadAtTheResolutionOfTheirScanAndRefusedWhenLocked) {
    const TempFolder folder;
    write_file(folder / "scan.tif", *encode_tiff({noisy(413, 583, CV_8UC1, 9), 200, Ink::Grey}));
    ASSERT_EQ(run({"tiff2pdf", "-z", "-o", (folder / "scan.pdf").string(), (folder / "scan.tif").string()}).status, 0);
    EXPECT_EQ(*count_pages(folder / "scan.pdf"), 1);
    const auto page = read_page(folder / "scan.pdf");
    ASSERT_TRUE(page) << page.error().sentence;
    EXPECT_EQ(page->raster.dpi, 200);
    EXPECT_EQ(page->raster.pixels.size(), cv::Size(413, 583));
    EXPECT_EQ(page->raster.ink, Ink::Grey);

    ASSERT_EQ(run({"qpdf", "--encrypt", "secret", "owner", "256", "--", (folder / "scan.pdf").string(),
                   (folder / "locked.pdf").string()})
                  .status,
              0);
    const auto locked = count_pages(folder / "locked.pdf");
    ASSERT_FALSE(locked);
    EXPECT_EQ(locked.error().kind, ErrorKind::Encrypted);
    EXPECT_NE(locked.error().sentence.find("password"), std::string::npos);
}

TEST(TiffRows, AreWrittenRowByRowAndReadBack) {
    const TempFolder folder;
    for (const Ink ink : {Ink::Colour, Ink::Grey, Ink::Black}) {
        const Raster raster = picture(ink);
        auto writer = TiffRowWriter::create(folder / "rows.tif", raster.width_px(), 240, ink);
        ASSERT_TRUE(writer);
        for (int y = 0, step = 1; y < raster.height_px(); y += step, step = step % 17 + 3) {
            ASSERT_TRUE(writer->append(raster.pixels.rowRange(y, std::min(y + step, raster.height_px()))));
        }
        EXPECT_FALSE(writer->append(noisy(7, 2, raster.pixels.type(), 1))) << "another width";
        ASSERT_TRUE(writer->finish());
        const auto back = read_own_tiff(folder / "rows.tif");
        ASSERT_TRUE(back);
        EXPECT_EQ(back->dpi, 240);
        EXPECT_EQ(back->ink, ink);
        EXPECT_EQ(cv::norm(back->pixels, raster.pixels, cv::NORM_INF), 0);
        EXPECT_EQ(run({"tiffinfo", (folder / "rows.tif").string()}).status, 0) << "readable by others";
    }
    auto nothing = TiffRowWriter::create(folder / "none.tif", 10, 300, Ink::Grey);
    ASSERT_TRUE(nothing);
    EXPECT_FALSE(nothing->finish()) << "a page without lines is none";
    EXPECT_FALSE(TiffRowWriter::create(folder / "no/such/folder.tif", 10, 300, Ink::Grey));
}

}
}
