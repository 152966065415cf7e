#include "core/storage/store_lock.h"

#include "core/private_files.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/file.h>

#include <cerrno>
#include <cstring>

namespace fs = std::filesystem;

namespace yelvin {

Result<StoreLock> StoreLock::take(const fs::path& folder, const char* name) {
    if (const std::error_code failure = make_private_folder(folder))
        return fail(ErrorKind::NotWritable, fmt::format("The folder {} for scanned pages cannot be created: {}.",
                                                        folder.string(), failure.message()));
    const int descriptor = ::open((folder / name).c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0600);
    if (descriptor < 0)
        return fail(
            ErrorKind::NotWritable,
            fmt::format("The folder {} for scanned pages cannot be written to: {}. Check your permission and the disk.",
                        folder.string(), std::strerror(errno)));
    StoreLock lock(descriptor);
    // On a file system without locks (some network file systems) the store is opened without one.
    if (::flock(descriptor, LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK)
        return fail(
            ErrorKind::Busy,
            fmt::format("The out tray in {} is open in another Yelvin window. Use that window, or close it first.",
                        folder.string()));
    return lock;
}

}
