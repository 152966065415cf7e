// Files appear whole or not at all, and never in the place of another: written under a temporary name in the same
// folder, synced, then given their name by a link that fails where the name is taken.
#pragma once

#include "core/error.h"

#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>

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
                            const std::function<Result<void>(const std::filesystem::path& growing)>& write);

Result<void> write_bytes(const std::filesystem::path& file, const std::string& bytes);

// Makes a finished file durable under its final name, in the same folder. Replaces what bears the name.
Result<void> sync_and_rename(const std::filesystem::path& growing, const std::filesystem::path& whole);

}
