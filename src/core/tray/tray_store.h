// The tray on disk: a folder with one lossless file per original and a SQLite database (WAL) of documents and pages.
//
// A page counts as scanned when its file has its final name: files grow under a temporary name, are synced and then
// renamed. So after a crash at any moment the folder holds only whole originals, and load() takes in those that the
// database does not know yet.
#pragma once

#include "core/error.h"
#include "core/raster/tiff_rows.h"
#include "core/tray/tray.h"

#include <filesystem>
#include <map>
#include <memory>

struct sqlite3;

namespace yelvin {

// What undo and redo lead back to: earlier trays, the oldest first, with the name of the step that followed.
struct TrayStep {
    Tray tray;
    std::string name;
};
struct TrayHistory {
    std::vector<TrayStep> undo, redo;
};
inline constexpr size_t most_steps = 100;

inline constexpr const char* growing_suffix = ".growing"; // of files that are not whole yet

class TrayStore {
  public:
    // Opens or makes the store; leftovers of pages that were never completed are removed.
    static Result<TrayStore> open(const std::filesystem::path& folder);

    // The tray as last kept, originals found without a row added in a document of their own.
    Result<Tray> load();
    // Keeps the whole tray in one transaction, and the history with it where it is given: each state of a page once,
    // however many steps hold it. Deletes what the history no longer needs: the rows of states that no step holds, and
    // the original files (and their coarse copies) that neither the tray nor the history leads back to. Without a
    // history nothing is deleted but rows of documents and pages that are not in the tray.
    Result<void> keep(const Tray& tray, const TrayHistory* history = nullptr);
    TrayHistory load_history();
    // Removes the originals that neither `tray` nor its history refers to, and what belonged to them.
    void remove_unused(const Tray& tray, const TrayHistory& history = {});

    // The reading of a page as developed by `recipe`; a page developed otherwise has none.
    Result<void> keep_text(const std::string& page_id, const Recipe& recipe, const std::string& languages,
                           const TextLayer& layer);
    std::optional<TextLayer> text(const std::string& page_id, const Recipe& recipe, const std::string& languages);

    const std::filesystem::path& folder() const { return folder_; }

  private:
    struct Close {
        void operator()(sqlite3* database) const;
    };
    std::filesystem::path folder_;
    std::unique_ptr<sqlite3, Close> database_;
    // States of pages that are in the database, by the page that is held here to stay at its address.
    std::map<PagePtr, long> states_;
    Result<long> keep_state(const PagePtr& page);
    Result<void> keep_steps(const Tray& tray, const TrayHistory& history);
    Result<void> run(const char* sql);
    std::unexpected<Error> failed() const;
};

// Takes one page in, row by row, and gives the Original once it is whole and on disk.
class OriginalWriter {
    // A coarser copy that is written along, `by` times: whole blocks of dots averaged.
    struct CoarseRows {
        int by = 4;
        TiffRowWriter rows;
        cv::Mat pending;
        std::filesystem::path file;
        Result<void> append(const cv::Mat& more, bool last);
    };

  public:
    static Result<OriginalWriter> begin(const std::filesystem::path& store_folder, int width_px, double dpi, Ink ink);
    OriginalWriter(OriginalWriter&&) noexcept = default;
    OriginalWriter& operator=(OriginalWriter&&) noexcept = default;
    ~OriginalWriter(); // an unfinished page is removed

    Result<void> append(const cv::Mat& rows);
    Result<Original> finish();

  private:
    OriginalWriter(TiffRowWriter rows, std::filesystem::path growing, Original original)
        : rows_(std::move(rows)), growing_(std::move(growing)), original_(std::move(original)) {}
    TiffRowWriter rows_;
    std::vector<CoarseRows> coarse_;
    std::filesystem::path growing_;
    Original original_;
};

// Coarse copies of a large original, made while it comes in, so that it can be looked at without being read: a quarter
// and a sixteenth of its resolution. Kept beside it; made anew where they are missing.
inline constexpr int large_width_px = 6000;
bool is_large(const Original& original);
std::filesystem::path coarse_file(const std::filesystem::path& store_folder, const Original& original, int by);
Result<Raster> read_coarse(const std::filesystem::path& store_folder, const Original& original, int by);

Result<Original> keep_original(const std::filesystem::path& store_folder, const Raster& raster);
Result<Raster> read_original(const std::filesystem::path& store_folder, const Original& original);

}
