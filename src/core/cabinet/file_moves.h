// Judging where a missing file of the cabinet may be. The functions look at the disk and may block on a dead network
// share; they may be called on any thread.
#pragma once

#include "core/cabinet/cabinet.h"

#include <filesystem>

namespace yelvin {

// Whether size and time are equal, so that the file need not be read.
bool same_quick_mark(const FileMark& a, const FileMark& b);

bool is_folder(const std::filesystem::path& folder);

// Returns the file's folder, or the nearest one above it that exists.
std::filesystem::path nearest_folder(const std::filesystem::path& file);

bool lies_in(const std::filesystem::path& file, const std::filesystem::path& folder); // at any depth

// Whether a file that is no longer at `from` may have been moved to `to`, which has the same contents. If its whole
// folder does not exist, the folder was renamed if `to` is within what is left of its path; otherwise its place is away
// (a network share, a stick), and `to` is a copy.
bool may_have_moved(const std::filesystem::path& from, const std::filesystem::path& to);

}
