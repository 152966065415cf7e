// Renames or moves a finished file without replacing another one and without losing any of it. May be called on any
// thread.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"

#include <filesystem>
#include <functional>
#include <string>

namespace yelvin {

// Moves `file` into `folder` under the first free name of candidate(0), candidate(1) and so on, and returns its new
// path. To another file system it is copied completely before the old file is deleted. On an error the file is where it
// was. Errors: Missing if the file or the folder does not exist; those of folder_error(). Blocks on the disk.
Result<std::filesystem::path> move_file(const std::filesystem::path& file, const std::filesystem::path& folder,
                                        const std::function<std::string(int attempt)>& candidate,
                                        FileSteps& steps = disk());

}
