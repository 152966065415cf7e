// Folders for files that are made only to be given away: attached to an e-mail, dragged into another window.
#pragma once

#include "core/error.h"

#include <filesystem>

namespace yelvin {

// Creates a new empty folder in `among`, which is created too if it is missing. Blocks on the file system: never call
// it on the window's thread.
Result<std::filesystem::path> new_copies_folder(const std::filesystem::path& among);

// Deletes folders in `among` that are older than a week: whoever got the files has them by then. Blocks; may be called
// on any thread.
void forget_old_copies(const std::filesystem::path& among);

}
