// Reading picture files and PDFs as pages, and encoding pictures with their resolution.
//
// The type of a file is recognised by its contents, never by its name. Errors name the file: BadInput if it is empty,
// cut off, not a picture, too small to be a page, or larger than memory allows; Missing; Encrypted for a PDF with a
// password. All functions may be called on any thread.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/raster/tiff_coding.h"

#include <filesystem>
#include <optional>
#include <string>

namespace yelvin {

struct LoadedPage {
    Raster raster;                // at customary_dpi if the file has no resolution
    bool resolution_known = true; // whether the file has a resolution
    std::string damage = {};      // a sentence if a part of the page is missing in the file; otherwise empty
};

inline constexpr double customary_dpi = 300;

// These functions open the file for one page; use PageFile (page_file.h) for several.

// Returns the number of pages in a picture file (TIFF may have many) or a PDF, at least 1.
Result<int> count_pages(const std::filesystem::path& file);

// Reads page `index` (from 0). A TIFF with different resolutions in both directions is scaled to the finer one. A page
// of a PDF that is a scan is returned as the pixels in the file, at their resolution; any other page is drawn at 300
// dpi or, if it lies over a finer scan, at that scan's resolution up to 600.
Result<LoadedPage> read_page(const std::filesystem::path& file, int index = 0);

// Reads a small picture of a page for display: at most `most_px` pixels wide and high, faster than read_page().
Result<Raster> glimpse_of_page(const std::filesystem::path& file, int index, int most_px);

// Encoders. Each returns the bytes of a file with resolution and colour profile. Errors: BadInput if the format cannot
// hold the picture; Internal if the codec fails.
Result<std::string> encode_png(const Raster& raster);
Result<std::string> encode_jpeg(const Raster& raster, int quality); // 1 to 100; black and white is stored as grey
// A TIFF of one page; `quality`, 1 to 100, is that of TiffCoding::Jpeg.
Result<std::string> encode_tiff(const Raster& raster, TiffCoding coding = TiffCoding::Auto, int quality = 85);
// Quality 1 to 100; black and white is stored without loss. At most 16383 pixels on each side.
Result<std::string> encode_webp(const Raster& raster, int quality);
Result<std::string> encode_bmp(const Raster& raster);
// Quality 1 to 100; black and white is stored without loss.
Result<std::string> encode_avif(const Raster& raster, int quality);
Result<std::string> encode_heic(const Raster& raster, int quality);
// Whether the structure of an AVIF or HEIC file is complete; pixels are not decoded.
bool heif_is_whole(const std::filesystem::path& file);
// Returns the bare CCITT G4 data of a black and white raster: one strip, 1 is white as with BlackIs1 false in PDF.
Result<std::string> encode_g4(const Raster& raster);

}
