// Saving files so that they appear whole or not at all and never replace another file: each is written under a
// temporary name in the same folder, synced, and then renamed, which fails if the name is taken.
//
// All functions may be called on any thread. They block on the disk.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"

#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace yelvin {

// Checks before any work that the folder exists, is writable and has `bytes_needed` bytes free. Errors: those of
// folder_error().
Result<void> check_folder(const std::filesystem::path& folder, std::uint64_t bytes_needed = 0);

// A file that was saved.
struct SavedFile {
    std::filesystem::path path;
    std::uint64_t bytes = 0;
};

// Saves a file under the first free name of candidate(0), candidate(1) and so on. `write` receives the path of the
// temporary file, which exists and is empty, and fills it. No existing file is replaced. On an error, also if `write`
// throws, the folder is as it was. Errors: those of `write` and folder_error().
Result<SavedFile> save_file(const std::filesystem::path& folder,
                            const std::function<std::string(int attempt)>& candidate,
                            const std::function<Result<void>(const std::filesystem::path& growing)>& write,
                            FileSteps& steps = disk());

// Deletes abandoned temporary files from the folder (see is_abandoned()); those that are being written stay. Lists the
// folder: call it once for each document, not for each file. Errors are ignored.
void remove_left_behind(const std::filesystem::path& folder);

// Writes a new file. Errors: those of folder_error(); the file may be incomplete then.
Result<void> write_bytes(const std::filesystem::path& file, const std::string& bytes);

// Syncs a finished file and renames it within its folder, replacing an existing file. Errors: those of folder_error().
Result<void> sync_and_rename(const std::filesystem::path& growing, const std::filesystem::path& whole,
                             FileSteps& steps = disk());

// Replaces the contents of a file, or creates it. Until the new contents are on disk, the file is as it was. It keeps
// its mode, and a symbolic link to it stays one. Errors: those of folder_error().
Result<void> replace_file(const std::filesystem::path& file, const std::string& bytes);

// Replaces the contents of a file like replace_file(), with what `write` puts into the temporary file that it receives.
// Other users cannot read that file until it replaces the old one.
Result<void> replace_file_with(const std::filesystem::path& file,
                               const std::function<Result<void>(const std::filesystem::path& growing)>& write,
                               FileSteps& steps = disk());

// Returns the folder itself if it exists, otherwise the nearest folder above it that does.
std::filesystem::path existing_part(const std::filesystem::path& folder);

// Creates folders, and deletes those that are still empty if what they were created for fails. Not thread-safe.
class NewFolders {
  public:
    // Creates the folder and the missing ones above it. Errors: those of folder_error().
    Result<void> make(const std::filesystem::path& folder);
    // Deletes the folders that make() created and that are empty.
    void remove();

  private:
    std::vector<std::filesystem::path> made_; // the uppermost first
};

// Turns an errno of a write into `folder` into an error: Missing, NotWritable or DiskFull. EIO on a
// nearly full file system counts as DiskFull, because a write that comes out short reports nothing else.
std::unexpected<Error> folder_error(const std::filesystem::path& folder, int code);

std::filesystem::path temporary_folder(); // TMPDIR, or /tmp; it need not exist

// Whether another process holds a lock on the file. Returns true if that cannot be determined.
bool is_in_use(const std::filesystem::path& file);

}
