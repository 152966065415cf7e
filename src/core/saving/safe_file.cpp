#include "core/saving/safe_file.h"

#include "core/saving/part_file.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <sys/statvfs.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fstream>

namespace fs = std::filesystem;

namespace yelvin {

std::unexpected<Error> folder_error(const fs::path& folder, int code) {
    const std::string where = folder.string();
    struct statvfs space {};
    constexpr std::uint64_t next_to_none = 256 * 1024;
    if (code == EIO && ::statvfs(folder.c_str(), &space) == 0 && space.f_bavail * space.f_frsize < next_to_none)
        code = ENOSPC;
    switch (code) {
    case ENOSPC:
    case EDQUOT:
        return fail(
            ErrorKind::DiskFull,
            fmt::format("The folder {} is full; make room there or choose another. Nothing was saved there.", where));
    case EFBIG:
        return fail(ErrorKind::DiskFull, fmt::format("The file is too large for the folder {}; choose another folder "
                                                     "or save fewer pages at once. Nothing was saved there.",
                                                     where));
    case EACCES:
    case EPERM:
    case EROFS:
        return fail(
            ErrorKind::NotWritable,
            fmt::format("You do not have permission to write to {}; choose another folder or ask for it.", where));
    case ENOTDIR:
        return fail(ErrorKind::Missing, fmt::format("{} is a file, not a folder; choose a folder.", where));
    case ENOENT:
        return fail(ErrorKind::Missing,
                    fmt::format("The folder {} does not exist; create it or choose another.", where));
    case ENAMETOOLONG:
        return fail(ErrorKind::NotWritable,
                    fmt::format("The file name is too long for the folder {}; choose a shorter name.", where));
    default:
        return fail(
            ErrorKind::NotWritable,
            fmt::format("Saving in {} failed: {}. Choose another folder or try again.", where, std::strerror(code)),
            std::to_string(code));
    }
}

namespace {

// A temporary file beside the final one. It is locked while it is being written, and removed in any case at the end.
class GrowingFile {
  public:
    explicit GrowingFile(const fs::path& folder) {
        for (int attempt = 0; attempt < 8; ++attempt) {
            path_ = folder / new_part_name();
            descriptor_ = ::open(path_.c_str(), O_CREAT | O_EXCL | O_WRONLY | O_CLOEXEC, 0666);
            code_ = descriptor_ < 0 ? errno : 0;
            if (descriptor_ < 0) return;
            ::flock(descriptor_, LOCK_EX | LOCK_NB);
            struct stat made {};
            // Another process that cleans the folder up may have removed it before it was locked.
            if (::fstat(descriptor_, &made) == 0 && made.st_nlink > 0) return;
            ::unlink(path_.c_str()); // fstat() may have failed although the file exists.
            ::close(descriptor_);
        }
        descriptor_ = -1;
        code_ = EAGAIN;
    }
    GrowingFile(const GrowingFile&) = delete;
    GrowingFile& operator=(const GrowingFile&) = delete;
    ~GrowingFile() {
        if (descriptor_ < 0) return;
        ::unlink(path_.c_str());
        ::close(descriptor_);
    }
    const fs::path& path() const { return path_; }
    int code() const { return code_; } // an errno where it could not be made

  private:
    fs::path path_;
    int descriptor_ = -1, code_ = 0;
};

}

bool is_in_use(const fs::path& file) {
    const int descriptor = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
    if (descriptor < 0) return true; // Not known, so the file counts as in use.
    const bool locked = ::flock(descriptor, LOCK_EX | LOCK_NB) != 0;
    ::close(descriptor);
    return locked;
}

void remove_left_behind(const fs::path& folder) {
    std::error_code failure;
    for (fs::directory_iterator at(folder, failure), end; !failure && at != end; at.increment(failure)) {
        if (is_part_name(at->path().filename().string()) && is_abandoned(at->path())) ::unlink(at->path().c_str());
    }
}

fs::path existing_part(const fs::path& folder) {
    std::error_code failure;
    fs::path at = fs::absolute(folder, failure);
    while (!fs::exists(at, failure) && at != at.parent_path()) at = at.parent_path();
    return at;
}

Result<void> NewFolders::make(const fs::path& folder) {
    std::vector<fs::path> missing;
    std::error_code failure;
    for (fs::path at = folder; !at.empty() && !fs::exists(at, failure); at = at.parent_path()) {
        missing.push_back(at);
        if (at == at.parent_path()) break;
    }
    for (auto at = missing.rbegin(); at != missing.rend(); ++at) {
        if (::mkdir(at->c_str(), 0777) == 0)
            made_.push_back(*at);
        else if (const int code = errno; code != EEXIST) {
            // Some file systems, such as proc, report ENOENT for an existing folder in which no folders can be made.
            const bool takes_none = code == ENOENT && fs::exists(at->parent_path(), failure);
            return folder_error(code == ENOTDIR ? existing_part(*at) : at->parent_path(), takes_none ? EACCES : code);
        }
    }
    return {};
}

void NewFolders::remove() {
    for (auto at = made_.rbegin(); at != made_.rend(); ++at) ::rmdir(at->c_str()); // not where something is in it
    made_.clear();
}

fs::path temporary_folder() {
    const char* wanted = std::getenv("TMPDIR"); // NOLINT(concurrency-mt-unsafe): never set by this program
    return wanted && *wanted ? wanted : "/tmp";
}

Result<void> check_folder(const fs::path& folder, std::uint64_t bytes_needed) {
    std::error_code failure;
    if (!fs::is_directory(folder, failure)) return folder_error(folder, fs::exists(folder, failure) ? ENOTDIR : ENOENT);
    if (::access(folder.c_str(), W_OK | X_OK) != 0) return folder_error(folder, EACCES);
    struct statvfs space {};
    if (::statvfs(folder.c_str(), &space) == 0 &&
        static_cast<std::uint64_t>(space.f_bavail) * space.f_frsize < bytes_needed)
        return folder_error(folder, ENOSPC);
    return {};
}

Result<SavedFile> save_file(const fs::path& folder, const std::function<std::string(int)>& candidate,
                            const std::function<Result<void>(const fs::path&)>& write, FileSteps& steps) {
    if (auto checked = check_folder(folder); !checked) return std::unexpected(checked.error());
    const GrowingFile growing(folder);
    if (growing.code() != 0) return folder_error(folder, growing.code());
    if (auto written = write(growing.path()); !written) return std::unexpected(written.error());
    if (const int code = steps.sync(growing.path())) return folder_error(folder, code);
    std::error_code failure;
    const std::uint64_t bytes = fs::file_size(growing.path(), failure);
    if (failure) return folder_error(folder, failure.value());
    constexpr int most_attempts = 100000;
    for (int attempt = 0; attempt < most_attempts; ++attempt) {
        const fs::path wanted = folder / candidate(attempt);
        const int code = steps.rename_to_new(growing.path(), wanted);
        if (code == EEXIST) continue;
        if (code != 0) return folder_error(folder, code);
        steps.sync_folder(folder); // Not every file system can sync folders; the file itself is on disk.
        return SavedFile{wanted, bytes};
    }
    return fail(ErrorKind::NotWritable,
                fmt::format("All numbers for this name are in use in {}; choose another name.", folder.string()));
}

Result<void> write_bytes(const fs::path& file, const std::string& bytes) {
    std::FILE* out = std::fopen(file.c_str(), "wb");
    if (!out) return folder_error(file.parent_path(), errno);
    int code = std::fwrite(bytes.data(), 1, bytes.size(), out) == bytes.size() && std::fflush(out) == 0 ? 0 : errno;
    if (std::fclose(out) != 0 && code == 0) code = errno;
    if (code != 0) return folder_error(file.parent_path(), code);
    return {};
}

Result<void> sync_and_rename(const fs::path& growing, const fs::path& whole, FileSteps& steps) {
    int code = steps.sync(growing);
    if (code == 0) code = steps.rename(growing, whole);
    // Not every file system can sync folders; the file itself is on disk.
    if (code == 0) steps.sync_folder(whole.parent_path());
    if (code != 0) return folder_error(whole.parent_path(), code);
    return {};
}

Result<void> replace_file(const fs::path& file, const std::string& bytes) {
    return replace_file_with(file, [&](const fs::path& growing) { return write_bytes(growing, bytes); });
}

namespace {

// The target of a chain of symbolic links, or the file itself if it is no link.
fs::path target_of(const fs::path& file) {
    std::error_code failure;
    if (!fs::is_symlink(file, failure)) return file;
    fs::path target = fs::weakly_canonical(file, failure);
    if (failure) return file;
    return target;
}

// The mode of a new file according to the umask. It is read from proc(5), because umask(2) can read it only by setting
// it.
mode_t mode_by_umask() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("Umask:")) return 0666 & ~static_cast<mode_t>(std::stoul(line.substr(6), nullptr, 8));
    return 0600;
}

}

Result<void> replace_file_with(const fs::path& file, const std::function<Result<void>(const fs::path&)>& write,
                               FileSteps& steps) {
    const fs::path target = target_of(file);
    const GrowingFile growing(target.parent_path());
    if (growing.code() != 0) return folder_error(target.parent_path(), growing.code());
    struct stat before {};
    const mode_t mode = ::stat(target.c_str(), &before) == 0 ? before.st_mode & 07777 : mode_by_umask();
    ::chmod(growing.path().c_str(), 0600); // Private until it is complete.
    if (auto written = write(growing.path()); !written) return written;
    ::chmod(growing.path().c_str(), mode);
    return sync_and_rename(growing.path(), target, steps);
}

}
