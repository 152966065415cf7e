// The TIFF files of the program's own store, written row by row as the scanner delivers them and read back in full or
// in parts. Compression is Zstandard with the horizontal predictor, which other programs built on libtiff read too.
// Also the pages of any TIFF.
//
// Free functions may be called on any thread; they block on the disk.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>

struct tiff;

namespace yelvin {

// Writes one page. Not thread-safe. Destroying an unfinished writer closes the file, which is then incomplete.
class TiffRowWriter {
  public:
    // Creates the file. Errors: NotWritable.
    static Result<TiffRowWriter> create(const std::filesystem::path& file, int width_px, double dpi, Ink ink);

    // Appends rows of the given width and colour mode (CV_8UC3 BGR, or CV_8UC1). Errors: DiskFull, NotWritable.
    Result<void> append(const cv::Mat& rows);
    // Writes the rest and closes the file, without syncing it. Nothing can be appended afterwards. Errors: DiskFull,
    // NotWritable; Device if no row was appended.
    Result<void> finish();
    int rows_written() const { return rows_; }

  private:
    struct Close {
        void operator()(tiff* file) const;
    };
    std::unique_ptr<tiff, Close> file_;
    std::filesystem::path path_;
    int width_ = 0, rows_ = 0;
    Ink ink_ = Ink::Grey;
    cv::Mat pending_; // rows that do not fill a strip yet
    Result<void> write_strips(bool last);
};

// The header of such a file.
struct OwnTiff {
    int width_px = 0, height_px = 0;
    double dpi = 0;
    Ink ink = Ink::Grey;
};
// Returns nullopt if the file is not such a file or is incomplete.
std::optional<OwnTiff> own_tiff_header(const std::filesystem::path& file);

// Reads the page. Errors: BadInput if the file is missing or damaged.
Result<Raster> read_own_tiff(const std::filesystem::path& file);
// Reads `count` rows from row `first` on, fewer at the end. Only the strips that hold them are decoded.
Result<Raster> read_own_tiff_rows(const std::filesystem::path& file, int first, int count);

// Appends the page of `one_page_tiff` (the bytes of a file) to `file` without decoding it. Returns 0 or an errno.
int append_tiff_page(const std::filesystem::path& file, const std::string& one_page_tiff);

// The offset of a page's directory (IFD; TIFF 6.0, section 2) in its file. A page can be read from there without
// walking the directories before it.
using TiffPlace = std::uint64_t;

struct TiffPages {
    std::vector<TiffPlace> places; // in the file's order; empty if it is not a readable TIFF
    bool is_cut_off = false;       // whether the chain of directories leads beyond the end of the file
};
TiffPages tiff_pages(const std::filesystem::path& file);

// Whether all data of a page are in the file and can be decoded without an error.
bool is_whole_tiff_page(const std::filesystem::path& file, TiffPlace place);

struct TiffPageSays {
    double width = 0, height = 0; // px
    std::string profile;          // ICC; empty: none
    bool is_white_zero = false;   // PhotometricInterpretation 0 (TIFF 6.0)
    int bits = 1;                 // of a sample
};
// Returns the tags of a page, or nullopt if there is no page at that offset.
std::optional<TiffPageSays> tiff_page_says(const std::filesystem::path& file, TiffPlace place);

}
