#include "core/saving/file_steps.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

int synced(const fs::path& path, int flags) {
    const int descriptor = ::open(path.c_str(), flags | O_CLOEXEC);
    if (descriptor < 0) return errno;
    const int code = ::fsync(descriptor) == 0 ? 0 : errno;
    ::close(descriptor);
    return code;
}

bool is_same_file(const fs::path& a, const fs::path& b) {
    struct stat first {
    }, second{};
    return ::lstat(a.c_str(), &first) == 0 && ::lstat(b.c_str(), &second) == 0 && first.st_dev == second.st_dev &&
           first.st_ino == second.st_ino;
}

int result(int returned) { return returned == 0 ? 0 : errno; }

}

int FileSteps::sync(const fs::path& file) { return synced(file, O_RDONLY); }

int FileSteps::sync_folder(const fs::path& folder) {
    const int code = synced(folder, O_RDONLY | O_DIRECTORY);
    return code == EINVAL ? 0 : code; // this file system cannot sync folders
}

int FileSteps::rename_to_new(const fs::path& growing, const fs::path& wanted) {
    if (::link(growing.c_str(), wanted.c_str()) == 0) {
        ::unlink(growing.c_str()); // should it stay, the next save takes it away
        return 0;
    }
    // A network file system may execute the request, lose the reply, and refuse the repeated request (link(2), NFS).
    if (errno == EEXIST && is_same_file(growing, wanted)) {
        ::unlink(growing.c_str());
        return 0;
    }
    if (errno != EPERM && errno != EOPNOTSUPP && errno != ENOSYS && errno != EMLINK) return errno;
    // The file system has no hard links. An existing file is not replaced here either.
    if (::renameat2(AT_FDCWD, growing.c_str(), AT_FDCWD, wanted.c_str(), RENAME_NOREPLACE) == 0) return 0;
    if (errno != EINVAL && errno != ENOSYS && errno != EOPNOTSUPP) return errno;
    // The last resort, on some network file systems. Another program could take the name between these two calls; that
    // is less likely than a kill, which would leave an empty file behind if the name were reserved by one.
    if (::access(wanted.c_str(), F_OK) == 0) return EEXIST;
    return result(::rename(growing.c_str(), wanted.c_str()));
}

int FileSteps::rename(const fs::path& from, const fs::path& to) { return result(::rename(from.c_str(), to.c_str())); }

int FileSteps::remove(const fs::path& file) {
    const int code = result(::unlink(file.c_str()));
    return code == ENOENT ? 0 : code;
}

FileSteps& disk() {
    static FileSteps steps;
    return steps;
}

}
