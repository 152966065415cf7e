#include "core/output/spool.h"

#include "core/saving/safe_file.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>
#include <cstring>

namespace yelvin {

namespace {

std::unexpected<Error> spool_failed(int code) {
    const bool full = code == ENOSPC || code == EDQUOT;
    return fail(full ? ErrorKind::DiskFull : ErrorKind::NotWritable,
                fmt::format("The folder for temporary files, {}, {}. Nothing was saved.", temporary_folder().string(),
                            full ? "is full; make room there"
                                 : "is read-only; ask for permission, or set TMPDIR to another folder"),
                std::strerror(code));
}

}

Spool::Spool() {
    // The file has no name from the beginning, if the file system supports that (open(2)).
    descriptor_ = ::open(temporary_folder().c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    if (descriptor_ >= 0) return;
    std::string name = (temporary_folder() / "yelvin-XXXXXX").string();
    descriptor_ = ::mkostemp(name.data(), O_CLOEXEC);
    if (descriptor_ < 0)
        code_ = errno;
    else if (::unlink(name.c_str()) != 0)
        code_ = errno; // Private data must not be written into a file that has a name.
}

Spool::~Spool() {
    if (descriptor_ >= 0) ::close(descriptor_);
}

Result<void> Spool::append(std::string_view bytes) {
    if (code_ != 0) return spool_failed(code_);
    while (!bytes.empty()) {
        const ssize_t wrote = ::pwrite(descriptor_, bytes.data(), bytes.size(), static_cast<off_t>(size_));
        if (wrote < 0 && errno == EINTR) continue;
        if (wrote <= 0) return spool_failed(wrote < 0 ? errno : ENOSPC);
        size_ += static_cast<std::uint64_t>(wrote);
        bytes.remove_prefix(static_cast<size_t>(wrote));
    }
    return {};
}

std::filesystem::path Spool::path() const { return fmt::format("/proc/self/fd/{}", descriptor_); }

std::int64_t Spool::read(std::uint64_t offset, void* into, std::uint64_t count) const {
    return ::pread(descriptor_, into, count, static_cast<off_t>(offset));
}

Result<Spooled> spooled(const std::shared_ptr<Spool>& spool, std::string_view bytes) {
    const std::uint64_t offset = spool->size();
    if (auto kept = spool->append(bytes); !kept) return std::unexpected(kept.error());
    return Spooled{spool, offset, bytes.size()};
}

}
