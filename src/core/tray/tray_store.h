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
#include <memory>

struct sqlite3;

namespace yelvin {

class TrayStore {
  public:
    // Opens or makes the store; leftovers of pages that were never completed are removed.
    static Result<TrayStore> open(const std::filesystem::path& folder);

    // The tray as last kept, originals found without a row added in a document of their own.
    Result<Tray> load();
    // Keeps the whole tray in one transaction.
    Result<void> keep(const Tray& tray);
    // Removes the originals that `tray` and none of `also_keep` refer to.
    void remove_unused(const Tray& tray, const std::vector<Tray>& also_keep);

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
    Result<void> run(const char* sql);
    std::unexpected<Error> failed() const;
};

// Takes one page in, row by row, and gives the Original once it is whole and on disk.
class OriginalWriter {
  public:
    static Result<OriginalWriter> begin(const std::filesystem::path& store_folder, int width_px, double dpi, Ink ink);
    OriginalWriter(OriginalWriter&&) noexcept = default;
    OriginalWriter& operator=(OriginalWriter&&) noexcept = default;
    ~OriginalWriter(); // an unfinished page is removed

    Result<void> append(const cv::Mat& rows) { return rows_.append(rows); }
    Result<Original> finish();

  private:
    OriginalWriter(TiffRowWriter rows, std::filesystem::path growing, Original original)
        : rows_(std::move(rows)), growing_(std::move(growing)), original_(std::move(original)) {}
    TiffRowWriter rows_;
    std::filesystem::path growing_;
    Original original_;
};

Result<Original> keep_original(const std::filesystem::path& store_folder, const Raster& raster);
Result<Raster> read_original(const std::filesystem::path& store_folder, const Original& original);

}
