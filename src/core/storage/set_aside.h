// Setting aside what cannot be read: it is kept in a new folder beside the store, so that nothing is deleted that was
// not understood. The functions block on the disk; they may be called on any thread.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"

#include <filesystem>

namespace yelvin {

// Creates a folder such as "tray set aside/2026-11-05 09.30.00" beside the store "tray" and returns its path. If that
// exists, a number is added. Errors: NotWritable.
Result<std::filesystem::path> new_set_aside_folder(const std::filesystem::path& store_folder);

// Moves a file, a symbolic link or a folder, or copies a file, into the folder `into`, under its own name or, if that
// is taken, with a number. If the source does not exist, nothing is done and no error is returned. Errors: NotWritable.
Result<void> move_aside(const std::filesystem::path& what, const std::filesystem::path& into, FileSteps& steps);
Result<void> copy_aside(const std::filesystem::path& file, const std::filesystem::path& into, FileSteps& steps);

}
