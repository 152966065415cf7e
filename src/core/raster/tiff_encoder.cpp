// Encodes one page as TIFF (TIFF 6.0) with the given compression.
#include "core/raster/colour_profile.h"
#include "core/raster/image_file.h"

#include <opencv2/imgproc.hpp>
#include <tiffio.h>
#include <tiffio.hxx>

#include <sstream>

namespace yelvin {

namespace {

using OpenTiff = std::unique_ptr<TIFF, decltype([](TIFF* file) { TIFFClose(file); })>;

uint16_t compression_of(Ink ink, TiffCoding coding) {
    const bool black = ink == Ink::Black;
    switch (coding) {
    case TiffCoding::Lzw:
        return COMPRESSION_LZW;
    case TiffCoding::Deflate:
        return COMPRESSION_ADOBE_DEFLATE;
    case TiffCoding::Jpeg:
        return black ? COMPRESSION_CCITTFAX4 : COMPRESSION_JPEG;
    case TiffCoding::Auto:
        break;
    }
    return black ? COMPRESSION_CCITTFAX4 : COMPRESSION_ADOBE_DEFLATE;
}

// Packs rows of a black page: eight pixels per byte, 1 is black.
cv::Mat packed(const cv::Mat& rows) {
    cv::Mat out = cv::Mat::zeros(rows.rows, (rows.cols + 7) / 8, CV_8UC1);
    for (int y = 0; y < rows.rows; ++y) {
        const uchar* row = rows.ptr(y);
        uchar* to = out.ptr(y);
        for (int x = 0; x < rows.cols; ++x)
            if (row[x] < 128) to[x / 8] = static_cast<uchar>(to[x / 8] | 0x80U >> (x % 8));
    }
    return out;
}

// Returns a copy, because libtiff's predictor changes the buffer that it is given.
cv::Mat rows_for_file(const Raster& raster, const cv::Range& rows) {
    const cv::Mat pixels = raster.pixels.rowRange(rows);
    if (raster.ink == Ink::Black) return packed(pixels);
    cv::Mat out;
    if (raster.ink == Ink::Colour)
        cv::cvtColor(pixels, out, cv::COLOR_BGR2RGB);
    else
        pixels.copyTo(out);
    return out;
}

int rows_of_strip(const Raster& raster, uint16_t compression) {
    const bool one = compression == COMPRESSION_JPEG || compression == COMPRESSION_CCITTFAX4;
    return one ? raster.height_px() : std::min(64, raster.height_px());
}

void describe(TIFF* file, const Raster& raster, uint16_t compression, int quality) {
    const bool black = raster.ink == Ink::Black, colour = raster.ink == Ink::Colour,
               jpeg = compression == COMPRESSION_JPEG;
    TIFFSetField(file, TIFFTAG_IMAGEWIDTH, static_cast<uint32_t>(raster.width_px()));
    TIFFSetField(file, TIFFTAG_IMAGELENGTH, static_cast<uint32_t>(raster.height_px()));
    TIFFSetField(file, TIFFTAG_BITSPERSAMPLE, black ? 1 : 8);
    TIFFSetField(file, TIFFTAG_SAMPLESPERPIXEL, colour ? 3 : 1);
    TIFFSetField(file, TIFFTAG_COMPRESSION, compression);
    TIFFSetField(file, TIFFTAG_PHOTOMETRIC,
                 black     ? PHOTOMETRIC_MINISWHITE
                 : !colour ? PHOTOMETRIC_MINISBLACK
                 : jpeg    ? PHOTOMETRIC_YCBCR
                           : PHOTOMETRIC_RGB);
    TIFFSetField(file, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
    if (jpeg) {
        TIFFSetField(file, TIFFTAG_JPEGQUALITY, quality);
        TIFFSetField(file, TIFFTAG_JPEGCOLORMODE, JPEGCOLORMODE_RGB);
        TIFFSetField(file, TIFFTAG_JPEGTABLESMODE, 0); // each strip has its tables: pages are joined strip by strip
    } else if (!black) {
        TIFFSetField(file, TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
    }
    TIFFSetField(file, TIFFTAG_ROWSPERSTRIP, static_cast<uint32_t>(rows_of_strip(raster, compression)));
    TIFFSetField(file, TIFFTAG_XRESOLUTION, raster.dpi);
    TIFFSetField(file, TIFFTAG_YRESOLUTION, raster.dpi);
    TIFFSetField(file, TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
    const std::string& profile = colour_profile(raster.ink);
    if (!black) TIFFSetField(file, TIFFTAG_ICCPROFILE, static_cast<uint32_t>(profile.size()), profile.data());
}

}

Result<std::string> encode_tiff(const Raster& raster, TiffCoding coding, int quality) {
    std::ostringstream bytes;
    bool whole = false;
    {
        const uint16_t compression = compression_of(raster.ink, coding);
        const OpenTiff file{TIFFStreamOpen("page", &bytes)};
        if (file) describe(file.get(), raster, compression, quality);
        // Compressing a whole strip is faster than compressing it row by row. For JPEG, the strip is the whole page.
        const bool by_rows = compression == COMPRESSION_JPEG;
        const int at_once = by_rows ? 1 : rows_of_strip(raster, compression);
        whole = file != nullptr;
        for (int y = 0; whole && y < raster.height_px(); y += at_once) {
            const auto row = static_cast<uint32_t>(y);
            cv::Mat pixels = rows_for_file(raster, {y, std::min(y + at_once, raster.height_px())});
            const auto size = static_cast<tmsize_t>(pixels.total() * pixels.elemSize());
            whole = by_rows ? TIFFWriteScanline(file.get(), pixels.data, row) == 1
                            : TIFFWriteEncodedStrip(file.get(), row / static_cast<uint32_t>(at_once), pixels.data,
                                                    size) == size;
        }
        whole = whole && TIFFFlush(file.get()) == 1;
    }
    if (!whole) return fail(ErrorKind::Internal, "The page could not be saved as TIFF.");
    return std::move(bytes).str();
}

}
