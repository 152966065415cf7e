// Where files stand that are made only to be given away: attached to a mail, dragged into another window.
#pragma once

#include "core/error.h"

#include <filesystem>

namespace yelvin {

// A new empty folder in `among`, which is made where it is missing. It waits for the file system: never on the window's
// thread.
Result<std::filesystem::path> new_copies_folder(const std::filesystem::path& among);

// Those in `among` that are older than a week go: whoever was given the files has them by then. Takes as long as there
// is to be removed; on any thread.
void forget_old_copies(const std::filesystem::path& among);

}
