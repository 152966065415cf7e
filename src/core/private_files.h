// Folders and files that nobody but their owner may read. What was scanned, what it says and where it went is private:
// everything that Yelvin keeps for itself is made by these functions, so that it has mode 0700 or 0600 whatever the
// umask. Documents that are saved for the person follow the umask instead.
//
// Thread-safe.
#pragma once

#include <filesystem>
#include <string_view>
#include <system_error>

namespace yelvin {

// Makes the folder and the missing ones above it, each with mode 0700. A folder that exists and belongs to this user
// is closed to others. Returns the error if the folder does not exist afterwards; a folder of another user is left as
// it is, without an error.
std::error_code make_private_folder(const std::filesystem::path& folder);

// Makes an empty file with mode 0600, or closes an existing one of this user to others without changing what is in it.
// SQLite gives its journals the mode of the database. Returns the error if the file does not exist afterwards.
std::error_code make_private_file(const std::filesystem::path& file);

// Writes the file with mode 0600, whole or not at all, into a folder that is there. An existing file is replaced, where
// a symbolic link leads to it too. Returns the error if that failed; what was there is then as before.
std::error_code write_private_file(const std::filesystem::path& file, std::string_view bytes);

}
