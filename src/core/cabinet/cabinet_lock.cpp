#include "core/cabinet/cabinet_lock.h"

#include <fcntl.h>
#include <sys/file.h>

#include <cerrno>

namespace yelvin {

namespace {
constexpr const char* lock_file = "cabinet.lock";
}

Result<CabinetLock> CabinetLock::shared(int descriptor) {
    CabinetLock lock(descriptor);
    if (descriptor >= 0 && ::flock(descriptor, LOCK_SH | LOCK_NB) != 0 && errno == EWOULDBLOCK)
        return fail(ErrorKind::Busy, "Another program is rebuilding the cabinet; try again in a few minutes.");
    return lock;
}

Result<CabinetLock> CabinetLock::take(const std::filesystem::path& folder) {
    return shared(::open((folder / lock_file).c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0600));
}

Result<CabinetLock> CabinetLock::take_to_read(const std::filesystem::path& folder) {
    return shared(::open((folder / lock_file).c_str(), O_RDONLY | O_CLOEXEC));
}

Result<void> CabinetLock::take_alone() {
    if (held_.descriptor() < 0 || ::flock(held_.descriptor(), LOCK_EX | LOCK_NB) == 0 || errno != EWOULDBLOCK)
        return {};
    ::flock(held_.descriptor(), LOCK_SH | LOCK_NB); // A failed conversion may have released the shared lock.
    return fail(ErrorKind::Busy, "The cabinet is damaged, and another program has it open. Close that program, then "
                                 "start again; the cabinet is then rebuilt.");
}

void CabinetLock::share() {
    if (held_.descriptor() >= 0) ::flock(held_.descriptor(), LOCK_SH | LOCK_NB);
}

}
