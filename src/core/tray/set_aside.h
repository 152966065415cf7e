// Where what cannot be read is kept: a folder beside the store, one a time that something was set aside.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"

#include <filesystem>

namespace yelvin {

// "tray set aside/2026-11-05 09.30.00" beside the store "tray", made; with a number where that is taken.
Result<std::filesystem::path> new_set_aside_folder(const std::filesystem::path& store_folder);

// Whatever it is (a file, a link, a folder) keeps its name there, or gets a number. What is not there is no error.
Result<void> moved_aside(const std::filesystem::path& what, const std::filesystem::path& into, FileSteps& steps);
Result<void> copied_aside(const std::filesystem::path& file, const std::filesystem::path& into, FileSteps& steps);

}
