// Originals on disk: one lossless TIFF file for each page, exactly as the scanner delivered it.
//
// A file grows under a temporary name, is synced when its last row is in, and then gets its final name. A crash at any
// moment therefore leaves only whole originals under final names. Nothing here knows the tray's database; TrayStore
// does.
//
// The free functions may be called on any thread, at the same time for different originals. They block on the disk.
#pragma once

#include "core/error.h"
#include "core/raster/tiff_rows.h"
#include "core/saving/file_steps.h"
#include "core/tray/tray.h"

#include <array>
#include <filesystem>
#include <vector>

namespace yelvin {

// Suffix of an original that is still being written.
inline constexpr const char* growing_suffix = ".growing";

// Suffixes of the files that belong to an original: its coarse copies, the drawing of a page of a PDF, the pictures of
// a scanned PDF page. They are deleted together with the original.
inline constexpr std::array<const char*, 4> beside_original{".by4", ".by16", ".drawing", ".pictures"};

// Originals at least this wide get coarse copies, so that they can be shown without being read in full.
inline constexpr int large_width_px = 6000;

// Writes one original row by row. Used by one thread at a time. Destroying an unfinished writer removes its files.
class OriginalWriter {
    // A coarse copy that is written along with the original; each of its pixels averages a block of `by` x `by`.
    struct CoarseRows {
        int by = 4;
        TiffRowWriter rows;
        cv::Mat pending; // rows that do not fill a block yet
        std::filesystem::path file;
        Result<void> append(const cv::Mat& more, bool last);
    };

  public:
    // Creates the file, and the coarse copies if the page is large. `store_folder` must exist and outlive the call
    // only; `steps` must outlive the writer. Errors: those of TiffRowWriter::create().
    static Result<OriginalWriter> begin(const std::filesystem::path& store_folder, int width_px, double dpi, Ink ink,
                                        FileSteps& steps = disk());
    OriginalWriter(OriginalWriter&&) noexcept = default;
    OriginalWriter& operator=(OriginalWriter&&) noexcept = default;
    ~OriginalWriter();

    // Appends rows of the page's width: CV_8UC3 (BGR) for colour, CV_8UC1 otherwise. The rows are copied. Errors:
    // DiskFull, NotWritable; the writer is of no further use then.
    Result<void> append(const cv::Mat& rows);

    // Syncs the file and gives it its final name. Returns the original, which is safe on disk. Call it once, after the
    // last append(). Errors: those of append() and of sync_and_rename().
    Result<Original> finish();

  private:
    OriginalWriter(TiffRowWriter rows, std::filesystem::path growing, Original original, FileSteps& steps)
        : steps_(&steps), rows_(std::move(rows)), growing_(std::move(growing)), original_(std::move(original)) {}
    FileSteps* steps_;
    TiffRowWriter rows_;
    std::vector<CoarseRows> coarse_;
    std::filesystem::path growing_; // empty once the file has its final name
    Original original_;
};

// Writes a whole page at once: begin(), append() and finish() of an OriginalWriter.
Result<Original> keep_original(const std::filesystem::path& store_folder, const Raster& raster,
                               FileSteps& steps = disk());

// Reads an original in full. Errors: BadInput if its file is missing or damaged.
Result<Raster> read_original(const std::filesystem::path& store_folder, const Original& original);

// Whether the original is at least large_width_px wide and so has coarse copies.
bool is_large(const Original& original);

// Path of the coarse copy with 1/`by` of the original's resolution; `by` is 4 or 16. The file need not exist.
std::filesystem::path coarse_file(const std::filesystem::path& store_folder, const Original& original, int by);

// Reads a coarse copy. If it is missing, computes it from bands of the original without storing it; if the original is
// narrower than `by` pixels, returns the original itself. Errors: those of read_original().
Result<Raster> read_coarse(const std::filesystem::path& store_folder, const Original& original, int by);

}
