// TIFF as the program's own lossless store: written row by row as the scanner delivers, read back whole and fast.
// Also the two questions the codecs ask of any TIFF. Compression is Zstandard with the horizontal predictor, which
// other programs built on libtiff read too.
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

class TiffRowWriter {
  public:
    // Starts a page of `width_px`; the height grows with the rows.
    static Result<TiffRowWriter> create(const std::filesystem::path& file, int width_px, double dpi, Ink ink);

    // Appends rows of the width and ink kind given at the start (CV_8UC3 BGR, or CV_8UC1).
    Result<void> append(const cv::Mat& rows);
    // Ends the page and closes the file; afterwards nothing can be appended. Does not sync to disk.
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

// What a file of this store's kind says of itself; nothing where it is none, or not all of it is there.
struct OwnTiff {
    int width_px = 0, height_px = 0;
    double dpi = 0;
    Ink ink = Ink::Grey;
};
std::optional<OwnTiff> own_tiff_header(const std::filesystem::path& file);

Result<Raster> read_own_tiff(const std::filesystem::path& file);
// Only `count` rows from row `first` on; fewer at the end. The strips that hold them are all that is decoded.
Result<Raster> read_own_tiff_rows(const std::filesystem::path& file, int first, int count);

// Adds the one page of `one_page_tiff` (a file's bytes) behind the pages of `file`, its compressed data untouched.
// Gives 0, or an errno.
int append_tiff_page(const std::filesystem::path& file, const std::string& one_page_tiff);

// Where the directory of a page (IFD; TIFF 6.0, section 2) begins in its file: bytes from the file's beginning. A page
// is read from there without a walk through the directories before it.
using TiffPlace = std::uint64_t;

struct TiffPages {
    std::vector<TiffPlace> places; // in the file's order; empty: not a readable TIFF
    bool is_cut_off = false;       // the chain of its pages leads to a place that is not there
};
TiffPages tiff_pages(const std::filesystem::path& file);

// Returns whether all of a page's data lie in the file and, where they are compressed, decode without a fault.
bool is_whole_tiff_page(const std::filesystem::path& file, TiffPlace place);

struct TiffPageSays {
    double width = 0, height = 0; // px
    std::string profile;          // ICC; empty: none
    bool is_white_zero = false;   // PhotometricInterpretation 0 (TIFF 6.0)
    int bits = 1;                 // of a sample
};
// Returns what a page says of itself; nullopt if there is no page at that place.
std::optional<TiffPageSays> tiff_page_says(const std::filesystem::path& file, TiffPlace place);

}
