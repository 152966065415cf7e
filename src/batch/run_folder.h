// The folder in which `yelvin-batch scan` keeps the originals of one run until they are saved.
//
// A page is on disk before anything is done with it, and stays there until its document is saved. After an error, an
// exception or a kill the folder is left, and the user can save its pages with `yelvin-batch make`. The folder is
// private (mode 0700) and locked during the run.
//
// The functions block on the disk. Used on the program's main thread.
#pragma once

#include "core/storage/store_lock.h"
#include "core/tray/tray.h"

#include <filesystem>
#include <vector>

namespace yelvin {

class RunFolder {
  public:
    // Creates a folder in the temporary folder. Deletes folders of killed runs of this user that contain no complete
    // page. Errors: NotWritable.
    static Result<RunFolder> make();
    RunFolder(RunFolder&& other) noexcept;
    RunFolder& operator=(RunFolder&&) = delete;
    // Deletes the folder if no original is left in it.
    ~RunFolder();

    const std::filesystem::path& path() const { return path_; }

    // Deletes the originals of saved pages, except those that `others` need too.
    void let_go(const std::vector<PagePtr>& saved, const std::vector<PagePtr>& others);

    // Renames the originals that are left to "page-001.tif" and so on, in the order of the pages, and returns their
    // number. Call it at the end of a run that could not save everything.
    size_t name_what_is_left(const std::vector<PagePtr>& pages);

    // Lists folders of runs of this user that ended without saving their pages, with the number of originals in each.
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
