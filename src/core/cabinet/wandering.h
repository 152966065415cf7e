// Where a file of the cabinet may be when it is not where it was.
#pragma once

#include "core/cabinet/cabinet.h"

#include <filesystem>

namespace yelvin {

// Whether a file has the same size and time as the cabinet knows of it, so that it need not be read.
bool same_glance(const FileMark& a, const FileMark& b);

bool is_folder(const std::filesystem::path& folder);

// Returns the file's folder, or the nearest one above it that exists.
std::filesystem::path nearest_folder(const std::filesystem::path& file);

bool lies_in(const std::filesystem::path& file, const std::filesystem::path& folder); // at any depth

// Whether a file that is not at `from` any more may now be `to`, which has the same contents. A whole folder that does
// not exist was renamed if the file turns up in what is left of its path. Otherwise its place is away (a network share,
// a stick), and `to` is a copy.
bool may_have_moved(const std::filesystem::path& from, const std::filesystem::path& to);

}
