// Reading picture files and PDFs as pages, and encoding pictures with their resolution.
//
// Files are told apart by their content, never by their name. A file that is empty, cut off, not a picture, too small
// to be a page or larger than memory allows is an Error that names it.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/raster/tiff_coding.h"

#include <filesystem>
#include <optional>
#include <string>

namespace yelvin {

struct LoadedPage {
    Raster raster;                // of a page whose file says no resolution: 300 dpi is put in
    bool resolution_known = true; // false: the file carried none
    std::string damage = {};      // where a part of the page is missing in its file: a sentence that says so
};

inline constexpr double customary_dpi = 300;

// These open the file for one page; who wants several uses PageFile (page_file.h).

// The number of pages in a picture file (TIFF may have many) or a PDF; at least 1.
Result<int> count_pages(const std::filesystem::path& file);

// Page `index` (from 0). A TIFF whose two resolutions differ is brought to the finer one. A page of a PDF that is a
// scan has the dots that are in the file, at their resolution; any other is drawn, at 300 dpi or, where it lies over a
// finer scan, at that scan's resolution up to 600.
Result<LoadedPage> read_page(const std::filesystem::path& file, int index = 0);

// Likewise, only to be looked at: at most `most_px` dots wide and high, and quick to make.
Result<Raster> glimpse_of_page(const std::filesystem::path& file, int index, int most_px);

// A PDF of page `index` alone, where the page is drawn: letters, lines, and not one picture that fills it. Nothing for
// a scan, and for files that are no PDF or could not be parted without loss.
std::optional<std::string> drawing_of_page(const std::filesystem::path& file, int index);

Result<std::string> encode_png(const Raster& raster);
Result<std::string> encode_jpeg(const Raster& raster, int quality); // quality 1 to 100; black is stored as grey
// One page of a TIFF; `quality` 1 to 100 of its JPEG.
Result<std::string> encode_tiff(const Raster& raster, TiffCoding coding = TiffCoding::Auto, int quality = 85);
// Quality 1 to 100; black without loss. At most 16383 dots a side.
Result<std::string> encode_webp(const Raster& raster, int quality);
Result<std::string> encode_bmp(const Raster& raster);
// Quality 1 to 100; black without loss.
Result<std::string> encode_avif(const Raster& raster, int quality);
Result<std::string> encode_heic(const Raster& raster, int quality);
bool heif_is_whole(const std::filesystem::path& file); // its structure; the dots are not decoded
// The bare CCITT G4 data of a black raster, one strip, 1 = white as in PDF's BlackIs1 false.
Result<std::string> encode_g4(const Raster& raster);

}
