// The folder in which `yelvin-batch scan` keeps the originals of one run until they are saved.
//
// A page is on disk before anything is done with it, and stays there until the document it belongs to is saved: after
// an error, an exception or a kill the folder is left, and whoever scanned can turn it into files with
// `yelvin-batch make`. The folder is private (mode 0700) and locked while its run lasts.
#pragma once

#include "core/tray/store_lock.h"
#include "core/tray/tray.h"

#include <filesystem>
#include <vector>

namespace yelvin {

class RunFolder {
  public:
    // Makes a new folder in the folder for temporary files. Removes what killed runs of this user left that holds no
    // whole page. Errors: NotWritable.
    static Result<RunFolder> make();
    RunFolder(RunFolder&& other) noexcept;
    RunFolder& operator=(RunFolder&&) = delete;
    // Removes the folder if no original is left in it.
    ~RunFolder();

    const std::filesystem::path& path() const { return path_; }

    // Removes the originals of these pages, which are saved, but not those that `others` need too.
    void let_go(const std::vector<PagePtr>& saved, const std::vector<PagePtr>& others);

    // Names the originals that are left "page-001.tif" and so on, in the order of the pages, and returns how many there
    // are. Call it at the end of a run that could not save everything.
    size_t name_what_is_left(const std::vector<PagePtr>& pages);

    // Folders of runs of this user that ended without saving their pages, with how many originals each holds.
    struct Left {
        std::filesystem::path folder;
        size_t originals = 0;
    };
    static std::vector<Left> left_by_others();

  private:
    std::filesystem::path path_;
    StoreLock lock_;
    RunFolder(std::filesystem::path path, StoreLock lock) : path_(std::move(path)), lock_(std::move(lock)) {}
};

}
