#include "core/saving/move_file.h"

#include "core/saving/safe_file.h"

#include <fmt/format.h>

#include <cerrno>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

std::unexpected<Error> gone(const fs::path& file) {
    return fail(ErrorKind::Missing,
                fmt::format("The file {} no longer exists: another program moved or deleted it.", file.string()));
}

Result<fs::path> copied(const fs::path& file, const fs::path& folder, const std::function<std::string(int)>& candidate,
                        FileSteps& steps) {
    const auto write = [&](const fs::path& growing) -> Result<void> {
        std::error_code failure;
        fs::copy_file(file, growing, fs::copy_options::overwrite_existing, failure);
        if (failure) return folder_error(folder, failure.value());
        fs::last_write_time(growing, fs::last_write_time(file, failure), failure);
        return {};
    };
    const auto saved = save_file(folder, candidate, write, steps);
    if (!saved) return std::unexpected(saved.error());
    if (steps.remove(file) != 0) {
        steps.remove(saved->path);
        return fail(
            ErrorKind::NotWritable,
            fmt::format("The file {} cannot be moved; it stays where it is. Check your permission for its folder.",
                        file.string()));
    }
    return saved->path;
}

}

Result<fs::path> move_file(const fs::path& file, const fs::path& folder,
                           const std::function<std::string(int)>& candidate, FileSteps& steps) {
    std::error_code failure;
    if (!fs::is_regular_file(file, failure)) return gone(file);
    if (auto checked = check_folder(folder); !checked) return std::unexpected(checked.error());
    constexpr int most = 100000;
    for (int attempt = 0; attempt < most; ++attempt) {
        const fs::path wanted = folder / candidate(attempt);
        if (wanted == file) return file;
        const int code = steps.rename_to_new(file, wanted);
        if (code == EEXIST) continue;
        if (code == EXDEV) return copied(file, folder, candidate, steps);
        if (code == ENOENT) return gone(file);
        if (code != 0) return folder_error(folder, code);
        // The new name was created, but the folder's permissions keep the old one from being removed.
        if (fs::exists(file, failure)) {
            steps.remove(wanted);
            return fail(
                ErrorKind::NotWritable,
                fmt::format("The file {} cannot be moved; it stays where it is. Check your permission for its folder.",
                            file.string()));
        }
        steps.sync_folder(folder);
        if (file.parent_path() != folder) steps.sync_folder(file.parent_path());
        return wanted;
    }
    return fail(ErrorKind::NotWritable, fmt::format("No free name was found in {}.", folder.string()));
}

}
