// Folders and files that only their owner may read. Everything that Yelvin keeps for itself (scans, text, addresses,
// logs) is created by these functions, so that it has mode 0700 or 0600 whatever the umask is. Documents that are saved
// for the user follow the umask instead.
//
// Thread-safe.
#pragma once

#include <filesystem>
#include <string_view>
#include <system_error>

namespace yelvin {

// Creates the folder and the missing ones above it, each with mode 0700. If the folder exists and belongs to this user,
// sets its mode to 0700; a folder of another user is left as it is. Returns an error only if the folder does not exist
// afterwards.
std::error_code make_private_folder(const std::filesystem::path& folder);

// Creates an empty file with mode 0600, or sets the mode of an existing one of this user to 0600 without changing its
// contents. (SQLite gives its journals the mode of the database.) Returns an error only if the file does not exist
// afterwards.
std::error_code make_private_file(const std::filesystem::path& file);

// Writes a file with mode 0600, whole or not at all, into an existing folder. Replaces an existing file; if `file` is a
// symbolic link, replaces the file that it leads to. On an error, what was there is unchanged.
std::error_code write_private_file(const std::filesystem::path& file, std::string_view bytes);

}
