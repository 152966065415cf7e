// What picture files contain beside their pixels: resolution in EXIF, colour profiles, which end of the range is white,
// and data that continue after the end or stop before it. ImageMagick, libtiff, exiftool and Little CMS (in
// ImageMagick) are the outside checks; the profiles are Ghostscript's.
#include "core/raster/colour_profile.h"
#include "core/raster/image_file.h"
#include "core/raster/png_jpeg.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>
#include <tiffio.h>

namespace yelvin::test {
namespace {

std::string jpeg_of(Ink ink) {
    const cv::Mat pixels = noisy(120, 80, ink == Ink::Colour ? CV_8UC3 : CV_8UC1, 7);
    return *encode_jpeg({pixels, 300, ink}, 85);
}

TEST(PictureMeaning, TheExifResolutionIsUsedIfJfifHasNone) {
    const TempFolder folder;
    const auto file = (folder / "photo.jpg").string();
    const auto with = [&](const std::vector<std::string>& said) {
        std::string jpeg = jpeg_of(Ink::Colour);
        jpeg.replace(13, 5, std::string("\x00\x00\x01\x00\x01", 5)); // JFIF 1.02: an aspect ratio only
        write_file(file, jpeg);
        std::vector<std::string> command{"exiftool", "-q", "-overwrite_original"};
        command.insert(command.end(), said.begin(), said.end());
        command.push_back(file);
        EXPECT_EQ(run(command).status, 0);
        return *read_page(file);
    };
    const LoadedPage inches = with({"-EXIF:XResolution=400", "-EXIF:YResolution=400", "-EXIF:ResolutionUnit=inches"});
    EXPECT_TRUE(inches.resolution_known);
    EXPECT_EQ(inches.raster.dpi, 400);
    EXPECT_NEAR(with({"-EXIF:XResolution=118.11", "-EXIF:YResolution=118.11", "-EXIF:ResolutionUnit=cm"}).raster.dpi,
                300, 0.05);
    // CIPA DC-008, 4.6.4 A: 72 is written if the resolution is unknown.
    EXPECT_FALSE(with({"-EXIF:XResolution=72", "-EXIF:YResolution=72"}).resolution_known);
    EXPECT_FALSE(with({"-EXIF:Artist=Heron"}).resolution_known);
    EXPECT_FALSE(with({"-EXIF:XResolution=0", "-EXIF:YResolution=0"}).resolution_known);
}

// Cameras and scanners pad the data to whole blocks, and some omit the last marker: nothing of the picture is missing.
TEST(PictureMeaning, APaddedJpegAndOneWithoutItsLastMarkerAreComplete) {
    const TempFolder folder;
    const auto file = (folder / "page.jpg").string();
    for (const Ink ink : {Ink::Grey, Ink::Colour}) {
        for (const bool progressive : {false, true}) {
            write_file(file, jpeg_of(ink));
            if (progressive) {
                EXPECT_EQ(run({"convert", file, "-interlace", "JPEG", file}).status, 0);
            }
            const std::string whole = read_file(file);
            const cv::Mat pixels = decode_jpeg(whole)->raster.pixels;
            const std::string body = whole.substr(0, whole.size() - 2), end = "\xFF\xD9";
            ASSERT_EQ(whole, body + end);
            for (const std::string& bytes : {body + std::string(300, '\0') + end, body,
                                             body + std::string(5, '\xFF') + end, whole + std::string(4096, '\0')}) {
                const auto read = decode_jpeg(bytes);
                ASSERT_TRUE(read) << progressive << bytes.size() - whole.size();
                EXPECT_EQ(cv::norm(read->raster.pixels, pixels, cv::NORM_INF), 0);
                EXPECT_TRUE(is_whole_jpeg(bytes));
            }
            // A part of the data is missing: it is never taken for complete, wherever it ends.
            for (size_t cut = 40; cut < body.size() / 2; cut += body.size() / 40) {
                EXPECT_FALSE(decode_jpeg(body.substr(0, body.size() - cut))) << progressive << " " << cut;
                EXPECT_FALSE(is_whole_jpeg(body.substr(0, body.size() - cut))) << progressive << " " << cut;
            }
            // A progressive JPEG that ends after one of its scans has coarser pixels, and no marker says so.
            size_t scan = 0, scans = 0;
            for (size_t at = body.find("\xFF\xDA"); at != std::string::npos;
                 at = body.find("\xFF\xDA", at + 2), ++scans)
                scan = at;
            if (progressive) {
                EXPECT_GT(scans, 2U);
                EXPECT_FALSE(decode_jpeg(body.substr(0, scan)));
            }
        }
    }
}

// sRGB values of colours in a wide colour space, compared with ImageMagick's conversion of the same file.
TEST(PictureMeaning, AnEmbeddedProfileIsApplied) {
    const TempFolder folder;
    const std::string profiles = "/usr/share/color/icc/ghostscript/";
    cv::Mat plain(64, 96, CV_8UC3);
    for (int y = 0; y < plain.rows; ++y)
        for (int x = 0; x < plain.cols; ++x)
            plain.at<cv::Vec3b>(y, x) =
                cv::Vec3b(static_cast<uchar>(60 + x), static_cast<uchar>(90 + y), static_cast<uchar>(200 - x));
    write_file(folder / "plain.png", *encode_png({plain, 300, Ink::Colour}));
    for (const std::string name : {"wide.png", "wide.tif", "wide.jpg"}) {
        const auto file = (folder / name).string(), truth = (folder / "srgb.png").string();
        ASSERT_EQ(run({"convert", (folder / "plain.png").string(), "+profile", "*", "-quality", "98",
                       "-sampling-factor", "1x1", "-profile", profiles + "a98.icc", file})
                      .status,
                  0);
        ASSERT_EQ(run({"convert", file, "-intent", "relative", "-black-point-compensation", "-profile",
                       profiles + "srgb.icc", "-strip", truth})
                      .status,
                  0);
        const cv::Mat pixels = read_page(file)->raster.pixels, expected = decode_png(read_file(truth))->raster.pixels;
        EXPECT_LE(cv::norm(pixels, expected, cv::NORM_INF), 2) << name;
        EXPECT_GT(cv::norm(pixels, plain, cv::NORM_INF), 12)
            << name << ": the numbers of a wide space mean other colours";
    }
    // A profile that is equivalent to sRGB, ours or another program's, changes no value.
    for (const std::string& profile : {colour_profile(Ink::Colour), read_file(profiles + "srgb.icc")}) {
        cv::Mat same = plain.clone();
        to_srgb(same, profile);
        EXPECT_EQ(cv::norm(same, plain, cv::NORM_INF), 0);
    }
    for (const std::string& odd : {std::string(), std::string("no profile"), read_file(profiles + "default_cmyk.icc"),
                                   read_file(profiles + "sgray.icc")}) {
        cv::Mat same = plain.clone();
        to_srgb(same, odd);
        EXPECT_EQ(cv::norm(same, plain, cv::NORM_INF), 0);
    }
}

// TIFF 6.0, PhotometricInterpretation: 0 and 1 mean white and black, at every depth.
TEST(PictureMeaning, WhiteIsWhiteForBothPhotometricInterpretations) {
    const TempFolder folder;
    const auto file = (folder / "page.tif").string();
    for (const int bits : {1, 8, 16}) {
        for (const bool white_is_zero : {false, true}) {
            constexpr std::uint32_t side = 32;
            TIFF* const tiff = TIFFOpen(file.c_str(), "w");
            TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, side);
            TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, side);
            TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, bits);
            TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, 1);
            TIFFSetField(tiff, TIFFTAG_ROWSPERSTRIP, side);
            TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, white_is_zero ? PHOTOMETRIC_MINISWHITE : PHOTOMETRIC_MINISBLACK);
            // The left half is white.
            std::vector<std::uint8_t> row(side * static_cast<size_t>(bits) / 8);
            for (size_t i = 0; i < row.size(); ++i) row[i] = (i < row.size() / 2) != white_is_zero ? 255 : 0;
            for (std::uint32_t y = 0; y < side; ++y) TIFFWriteScanline(tiff, row.data(), y);
            TIFFClose(tiff);
            const auto read = read_page(file);
            ASSERT_TRUE(read);
            EXPECT_EQ(read->raster.pixels.at<uchar>(3, 3), 255) << bits << white_is_zero;
            EXPECT_EQ(read->raster.pixels.at<uchar>(3, 28), 0) << bits << white_is_zero;
        }
    }
}

}
}
