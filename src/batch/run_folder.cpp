#include "batch/run_folder.h"

#include "core/held_lock.h"
#include "core/saving/safe_file.h"
#include "core/storage/new_id.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr std::string_view name_begin = "yelvin-scan-";

std::vector<fs::path> originals_in(const fs::path& folder) {
    std::vector<fs::path> files;
    std::error_code failure;
    for (fs::directory_iterator at(folder, failure), end; !failure && at != end; at.increment(failure))
        if (at->path().extension() == ".tif") files.push_back(at->path());
    return files;
}

// Returns only folders that belong to this user, because the folder for temporary files is shared by all users.
std::vector<fs::path> folders_without_run() {
    std::vector<fs::path> folders;
    std::error_code failure;
    for (fs::directory_iterator at(temporary_folder(), failure), end; !failure && at != end; at.increment(failure)) {
        struct stat about {};
        const bool ours = at->path().filename().string().starts_with(name_begin) &&
                          ::lstat(at->path().c_str(), &about) == 0 && S_ISDIR(about.st_mode) &&
                          about.st_uid == ::geteuid();
        std::error_code ignored;
        if (ours && fs::exists(at->path() / "lock", ignored) && !is_in_use(at->path() / "lock"))
            folders.push_back(at->path());
    }
    return folders;
}

}

Result<RunFolder> RunFolder::make() {
    std::error_code ignored;
    for (const fs::path& folder : folders_without_run()) {
        // The lock is held until the folder is deleted. A lock file that is gone must not be created again: its run
        // would take it for its own.
        const HeldLock lock(::open((folder / "lock").c_str(), O_RDWR | O_CLOEXEC));
        const bool is_ours = lock.descriptor() >= 0 && ::flock(lock.descriptor(), LOCK_EX | LOCK_NB) == 0;
        if (is_ours && originals_in(folder).empty()) fs::remove_all(folder, ignored);
    }
    // Another run that starts at the same moment may have deleted the new folder before it was locked.
    constexpr int most_attempts = 10;
    for (int attempt = 0; attempt < most_attempts; ++attempt) {
        const fs::path path = temporary_folder() / fmt::format("{}{}", name_begin, new_id());
        auto lock = StoreLock::take(path);
        if (lock && fs::exists(path / "lock", ignored)) return RunFolder(path, std::move(*lock));
        if (!lock && lock.error().kind != ErrorKind::Busy) return std::unexpected(lock.error());
    }
    return fail(ErrorKind::NotWritable,
                fmt::format("New folders in {} are deleted by another program; choose another folder with TMPDIR.",
                            temporary_folder().string()));
}

RunFolder::RunFolder(RunFolder&& other) noexcept
    : path_(std::exchange(other.path_, {})), lock_(std::move(other.lock_)) {}

RunFolder::~RunFolder() {
    std::error_code ignored;
    if (!path_.empty() && originals_in(path_).empty()) fs::remove_all(path_, ignored);
}

void RunFolder::let_go(const std::vector<PagePtr>& saved, const std::vector<PagePtr>& others) {
    for (const PagePtr& page : saved) {
        const bool is_needed = std::ranges::any_of(
            others, [&](const PagePtr& other) { return other->original.file == page->original.file; });
        std::error_code ignored;
        if (!is_needed) fs::remove(path_ / page->original.file, ignored);
    }
}

size_t RunFolder::name_what_is_left(const std::vector<PagePtr>& pages) {
    std::set<std::string> seen;
    size_t number = 0;
    for (const PagePtr& page : pages) { // several pages may be parts of one original
        std::error_code failure;
        const fs::path original = path_ / page->original.file;
        if (!seen.insert(page->original.file).second || !fs::exists(original, failure)) continue;
        fs::rename(original, path_ / fmt::format("page-{:03}.tif", ++number), failure);
    }
    return originals_in(path_).size();
}

std::vector<RunFolder::Left> RunFolder::left_by_others() {
    std::vector<Left> left;
    for (const fs::path& folder : folders_without_run())
        if (const size_t count = originals_in(folder).size(); count > 0) left.push_back({folder, count});
    return left;
}

}
