// Files appear whole or not at all, and never in the place of another: written under a temporary name in the same
// folder, synced, then given their name, which fails where it is taken.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"

#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace yelvin {

// Says before any work whether files can be put into the folder: it is there, writable, and has `bytes_needed` free.
Result<void> check_folder(const std::filesystem::path& folder, std::uint64_t bytes_needed = 0);

struct SavedFile {
    std::filesystem::path path;
    std::uint64_t bytes = 0;
};

// `write` fills the file it is given. The first name of `candidate(0)`, `candidate(1)`, … that is free is used; nothing
// that exists is replaced. On any Error the folder is as it was.
Result<SavedFile> save_file(const std::filesystem::path& folder,
                            const std::function<std::string(int attempt)>& candidate,
                            const std::function<Result<void>(const std::filesystem::path& growing)>& write,
                            FileSteps& steps = disk());

// Removes what programs of this computer that were killed left half written in the folder, and what others left there a
// week ago (part_file.h); what somebody is writing stays. Lists the folder, so call it once a document, not once a
// file.
void remove_left_behind(const std::filesystem::path& folder);

// Whole, or an Error that says what is wrong with the folder.
Result<void> write_bytes(const std::filesystem::path& file, const std::string& bytes);

// Makes a finished file durable under its final name, in the same folder. Replaces what bears the name.
Result<void> sync_and_rename(const std::filesystem::path& growing, const std::filesystem::path& whole,
                             FileSteps& steps = disk());

// Gives a file other contents, or makes it. The file is as it was until the new contents are on disk. It keeps its
// mode, and a symbolic link keeps leading to it. Errors: those of folder_error().
Result<void> replace_file(const std::filesystem::path& file, const std::string& bytes);

// Does the same with what `write` puts into the file that it is given, which is not readable by others until then.
Result<void> replace_file_with(const std::filesystem::path& file,
                               const std::function<Result<void>(const std::filesystem::path& growing)>& write,
                               FileSteps& steps = disk());

// Returns the folder itself if it exists, otherwise the nearest folder above it that does.
std::filesystem::path existing_part(const std::filesystem::path& folder);

// Folders that are made on the way to one; those that are still empty go when the rest fails.
class NewFolders {
  public:
    Result<void> make(const std::filesystem::path& folder); // with those above it; those that are there stay
    void remove();

  private:
    std::vector<std::filesystem::path> made_; // the uppermost first
};

// What stands in the way of writing into a folder, as a sentence; `code` is an errno. EIO with next to no room left is
// taken for a full disk: a write that comes out short says no more.
std::unexpected<Error> folder_error(const std::filesystem::path& folder, int code);

std::filesystem::path temporary_folder(); // TMPDIR, or /tmp; it need not be there

// Whether a file's maker still holds its lock on it; yes where that cannot be told.
bool is_in_use(const std::filesystem::path& file);

}
