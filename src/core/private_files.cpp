#include "core/private_files.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <string>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr mode_t only_owner = 0700;

std::error_code system_error() { return {errno, std::generic_category()}; }

// Never adds a permission: a read-only file stays read-only.
void close_to_others(int descriptor) {
    struct stat about {};
    if (::fstat(descriptor, &about) != 0 || about.st_uid != ::geteuid()) return;
    if ((about.st_mode & 0077) != 0) ::fchmod(descriptor, about.st_mode & only_owner);
}

}

std::error_code make_private_folder(const fs::path& folder) {
    std::error_code failure;
    if (fs::is_directory(folder, failure)) {
        const int descriptor = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
        if (descriptor < 0) return {}; // a folder of another user, or one that may not be listed
        close_to_others(descriptor);
        ::close(descriptor);
        return {};
    }
    const fs::path above = folder.parent_path();
    if (!above.empty() && above != folder && !fs::is_directory(above, failure))
        if (auto failed = make_private_folder(above)) return failed;
    if (folder.filename().empty()) return {}; // "a/b/": the folder above it is the one that is meant
    if (::mkdir(folder.c_str(), only_owner) == 0) return {};
    const std::error_code failed = system_error();
    // Another program may have created it meanwhile.
    return fs::is_directory(folder, failure) ? std::error_code() : failed;
}

std::error_code make_private_file(const fs::path& file) {
    const int descriptor = ::open(file.c_str(), O_CREAT | O_RDONLY | O_CLOEXEC | O_NONBLOCK, 0600);
    if (descriptor < 0) return system_error();
    close_to_others(descriptor);
    ::close(descriptor);
    return {};
}

std::error_code write_private_file(const fs::path& file, std::string_view bytes) {
    std::error_code failure;
    const fs::path target = fs::is_symlink(file, failure) ? fs::weakly_canonical(file, failure) : file;
    std::string growing = target.string() + ".XXXXXX";
    const int descriptor = ::mkostemp(growing.data(), O_CLOEXEC); // with mode 0600
    if (descriptor < 0) return system_error();
    std::error_code failed;
    while (!bytes.empty() && !failed) {
        const ssize_t written = ::write(descriptor, bytes.data(), bytes.size());
        if (written < 0 && errno != EINTR) failed = system_error();
        if (written > 0) bytes.remove_prefix(static_cast<size_t>(written));
    }
    if (!failed && ::fsync(descriptor) != 0) failed = system_error();
    if (::close(descriptor) != 0 && !failed) failed = system_error();
    if (!failed && ::rename(growing.c_str(), target.c_str()) != 0) failed = system_error();
    if (failed) ::unlink(growing.c_str());
    return failed;
}

}
