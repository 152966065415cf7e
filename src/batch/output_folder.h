// The folder that --out names. It is created if it is missing, and deleted with this object if it is still empty. The
// functions block on the disk. Used on the program's main thread.
#pragma once

#include "core/saving/safe_file.h"

namespace yelvin {

class OutputFolder {
  public:
    OutputFolder() = default;
    OutputFolder(const OutputFolder&) = delete;
    OutputFolder& operator=(const OutputFolder&) = delete;
    ~OutputFolder() { folders_.remove(); }

    // Errors: those of folder_error(), for the first folder that cannot be made.
    Result<void> make(const std::filesystem::path& folder) { return folders_.make(std::filesystem::absolute(folder)); }

  private:
    NewFolders folders_;
};

}
