// One page as a TIFF (TIFF 6.0) in the coding that is wished.
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

// A row of a black page, eight dots a byte, 1 is black.
void pack(const uchar* row, int width, std::string& out) {
    std::ranges::fill(out, '\0');
    for (int x = 0; x < width; ++x)
        if (row[x] < 128) out[static_cast<size_t>(x) / 8] |= static_cast<char>(0x80U >> (x % 8));
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
    const auto whole = static_cast<uint32_t>(raster.height_px());
    TIFFSetField(file, TIFFTAG_ROWSPERSTRIP, jpeg || compression == COMPRESSION_CCITTFAX4 ? whole : 64U);
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
        const OpenTiff file{TIFFStreamOpen("page", &bytes)};
        if (file) describe(file.get(), raster, compression_of(raster.ink, coding), quality);
        // A copy of each row: libtiff works out the differences in the place that it is given.
        std::string packed(static_cast<size_t>(raster.width_px() + 7) / 8, '\0');
        cv::Mat dots;
        whole = file != nullptr;
        for (int y = 0; whole && y < raster.height_px(); ++y) {
            void* row = packed.data();
            if (raster.ink == Ink::Black) {
                pack(raster.pixels.ptr(y), raster.width_px(), packed);
            } else {
                if (raster.ink == Ink::Colour)
                    cv::cvtColor(raster.pixels.row(y), dots, cv::COLOR_BGR2RGB);
                else
                    raster.pixels.row(y).copyTo(dots);
                row = dots.data;
            }
            whole = TIFFWriteScanline(file.get(), row, static_cast<uint32_t>(y)) == 1;
        }
        whole = whole && TIFFFlush(file.get()) == 1;
    }
    if (!whole) return fail(ErrorKind::Internal, "The page could not be encoded as TIFF.");
    return std::move(bytes).str();
}

}
