#include "core/saving/safe_file.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/statvfs.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <memory>
#include <random>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

std::unexpected<Error> from_errno(const fs::path& folder, int code) {
    const std::string where = folder.string();
    switch (code) {
    case ENOSPC:
    case EDQUOT:
        return fail(
            ErrorKind::DiskFull,
            fmt::format("The folder {} is full; make room or choose another folder. Nothing was saved there.", where));
    case EACCES:
    case EPERM:
    case EROFS:
        return fail(
            ErrorKind::NotWritable,
            fmt::format("The folder {} may not be written to; choose another folder or ask for permission.", where));
    case ENOENT:
    case ENOTDIR:
        return fail(ErrorKind::Missing,
                    fmt::format("The folder {} is not there; make it or choose another folder.", where));
    case ENAMETOOLONG:
        return fail(ErrorKind::NotWritable,
                    fmt::format("The file name is too long for the folder {}; choose a shorter name.", where));
    default:
        return fail(
            ErrorKind::NotWritable,
            fmt::format("Saving into {} failed: {}. Choose another folder or try again.", where, std::strerror(code)),
            std::to_string(code));
    }
}

bool synced(const fs::path& path, int flags) {
    const int descriptor = ::open(path.c_str(), flags | O_CLOEXEC);
    if (descriptor < 0) return false;
    const bool fine = ::fsync(descriptor) == 0 || errno == EINVAL; // EINVAL: this file system cannot sync folders
    const int code = errno;
    ::close(descriptor);
    errno = code;
    return fine;
}

// A unique name beside the final one; removed at the end whatever happened.
struct GrowingFile {
    fs::path path;
    explicit GrowingFile(const fs::path& folder) {
        std::random_device random;
        path = folder / fmt::format(".yelvin-{:08x}{:08x}.part", random(), random());
    }
    GrowingFile(const GrowingFile&) = delete;
    GrowingFile& operator=(const GrowingFile&) = delete;
    ~GrowingFile() { ::unlink(path.c_str()); }
};

// Gives the file a second name that nobody has; where the file system knows no links, an exclusively made empty file
// reserves the name and is then replaced.
int name_exclusively(const fs::path& growing, const fs::path& wanted) {
    if (::link(growing.c_str(), wanted.c_str()) == 0) return 0;
    if (errno != EPERM && errno != EOPNOTSUPP && errno != ENOSYS && errno != EMLINK) return errno;
    const int descriptor = ::open(wanted.c_str(), O_CREAT | O_EXCL | O_WRONLY | O_CLOEXEC, 0666);
    if (descriptor < 0) return errno;
    ::close(descriptor);
    return ::rename(growing.c_str(), wanted.c_str()) == 0 ? 0 : errno;
}

}

Result<void> check_folder(const fs::path& folder, std::uint64_t bytes_needed) {
    std::error_code failure;
    if (!fs::is_directory(folder, failure)) return from_errno(folder, fs::exists(folder, failure) ? ENOTDIR : ENOENT);
    if (::access(folder.c_str(), W_OK | X_OK) != 0) return from_errno(folder, EACCES);
    struct statvfs space {};
    if (::statvfs(folder.c_str(), &space) == 0 &&
        static_cast<std::uint64_t>(space.f_bavail) * space.f_frsize < bytes_needed)
        return from_errno(folder, ENOSPC);
    return {};
}

Result<SavedFile> save_file(const fs::path& folder, const std::function<std::string(int)>& candidate,
                            const std::function<Result<void>(const fs::path&)>& write) {
    if (auto checked = check_folder(folder); !checked) return std::unexpected(checked.error());
    const GrowingFile growing(folder);
    if (auto written = write(growing.path); !written) return std::unexpected(written.error());
    if (!synced(growing.path, O_RDONLY)) return from_errno(folder, errno);
    std::error_code failure;
    const std::uint64_t bytes = fs::file_size(growing.path, failure);
    if (failure) return from_errno(folder, failure.value());
    constexpr int most_attempts = 100000;
    for (int attempt = 0; attempt < most_attempts; ++attempt) {
        const fs::path wanted = folder / candidate(attempt);
        const int code = name_exclusively(growing.path, wanted);
        if (code == EEXIST) continue;
        if (code != 0) return from_errno(folder, code);
        synced(folder, O_RDONLY | O_DIRECTORY);
        return SavedFile{wanted, bytes};
    }
    return fail(ErrorKind::NotWritable,
                fmt::format("Every number for this name is taken in {}; choose another name.", folder.string()));
}

Result<void> write_bytes(const fs::path& file, const std::string& bytes) {
    const std::unique_ptr<std::FILE, decltype([](std::FILE* f) { std::fclose(f); })> out{
        std::fopen(file.c_str(), "wb")};
    if (!out) return from_errno(file.parent_path(), errno);
    if (std::fwrite(bytes.data(), 1, bytes.size(), out.get()) != bytes.size() || std::fflush(out.get()) != 0)
        return from_errno(file.parent_path(), errno);
    return {};
}

Result<void> sync_and_rename(const fs::path& growing, const fs::path& whole) {
    if (!synced(growing, O_RDONLY) || ::rename(growing.c_str(), whole.c_str()) != 0)
        return from_errno(whole.parent_path(), errno);
    synced(whole.parent_path(), O_RDONLY | O_DIRECTORY);
    return {};
}

}
