#include "support/failing_calls.h"

#include <dirent.h>
#include <dlfcn.h>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/sendfile.h>
#include <sys/stat.h>
#include <sys/statvfs.h>
#include <sys/syscall.h>
#include <sys/uio.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <cstdarg>
#include <cstdio>
#include <cstring>

namespace yelvin::test {
namespace {

char below[4096] = ""; // plain memory: these calls come before main() and behind it
std::atomic<int> count{0}, fails_at{-1}, fails_with{0};
std::atomic<bool> counts{false};

bool is_below(const char* path) { return path && std::strncmp(path, below, std::strlen(below)) == 0; }

// Whether the call for this path is the one that fails; then errno is set.
bool fails(const char* path) {
    if (!counts || !is_below(path) || count++ != fails_at) return false;
    errno = fails_with;
    return true;
}

bool fails(int descriptor) {
    if (!counts || descriptor < 0) return false;
    char link[64], path[4096];
    std::snprintf(link, sizeof link, "/proc/self/fd/%d", descriptor);
    const long size = ::syscall(SYS_readlink, link, path, sizeof path - 1);
    if (size <= 0) return false;
    path[size] = '\0';
    return fails(path);
}

bool fails(std::FILE* file) { return counts && file && fails(::fileno(file)); }

template <class Function>
Function* real(const char* name) {
    return reinterpret_cast<Function*>(::dlsym(RTLD_NEXT, name));
}

}

FailingCalls::FailingCalls(const std::filesystem::path& folder, int at, int code) {
    std::strncpy(below, folder.c_str(), sizeof below - 1);
    count = 0;
    fails_at = at;
    fails_with = code;
    counts = true;
}

FailingCalls::~FailingCalls() { counts = false; }

int FailingCalls::calls() const { return count; }

}

// libc's functions, as <unistd.h>, <stdio.h>, <dirent.h> and <sys/stat.h> declare them.
using yelvin::test::fails;
using yelvin::test::real;

#define REAL(name)                                                                                                     \
    (*[] {                                                                                                             \
        static auto* const found = real<decltype(::name)>(#name);                                                      \
        return found;                                                                                                  \
    }())
#define ONE(type, name, parameters, on, arguments)                                                                     \
    type name parameters { return fails(on) ? static_cast<type>(-1) : REAL(name) arguments; }
#define ONE_NOEXCEPT(type, name, parameters, on, arguments)                                                            \
    type name parameters noexcept { return fails(on) ? static_cast<type>(-1) : REAL(name) arguments; }

namespace {
int opened(int at, const char* path, int flags, mode_t mode) {
    if (fails(path)) return -1;
    return static_cast<int>(::syscall(SYS_openat, at, path, flags, mode));
}
mode_t mode_in(int flags, std::va_list rest) { return flags & (O_CREAT | O_TMPFILE) ? va_arg(rest, mode_t) : 0; }
}

#define OPEN(name)                                                                                                     \
    int name(const char* path, int flags, ...) {                                                                       \
        std::va_list rest;                                                                                             \
        va_start(rest, flags);                                                                                         \
        const int descriptor = opened(AT_FDCWD, path, flags, mode_in(flags, rest));                                    \
        va_end(rest);                                                                                                  \
        return descriptor;                                                                                             \
    }

extern "C" {

OPEN(open)
OPEN(open64)
std::FILE* fopen(const char* path, const char* how) { return fails(path) ? nullptr : REAL(fopen)(path, how); }
std::FILE* fopen64(const char* path, const char* how) { return fails(path) ? nullptr : REAL(fopen64)(path, how); }
size_t fwrite(const void* bytes, size_t one, size_t many, std::FILE* file) {
    return fails(file) ? 0 : REAL(fwrite)(bytes, one, many, file);
}
int fflush(std::FILE* file) { return fails(file) ? EOF : REAL(fflush)(file); }
int fclose(std::FILE* file) {
    const bool is_to_fail = fails(file);
    const int code = errno, closed = REAL(fclose)(file);
    if (!is_to_fail) return closed;
    errno = code;
    return EOF;
}
DIR* opendir(const char* path) { return fails(path) ? nullptr : REAL(opendir)(path); }
dirent* readdir(DIR* folder) { return fails(::dirfd(folder)) ? nullptr : REAL(readdir)(folder); }
dirent64* readdir64(DIR* folder) { return fails(::dirfd(folder)) ? nullptr : REAL(readdir64)(folder); }

ONE(ssize_t, read, (int file, void* into, size_t size), file, (file, into, size))
ONE(ssize_t, pread, (int file, void* into, size_t size, off_t at), file, (file, into, size, at))
ONE(ssize_t, pread64, (int file, void* into, size_t size, off64_t at), file, (file, into, size, at))
ONE(ssize_t, write, (int file, const void* bytes, size_t size), file, (file, bytes, size))
ONE(ssize_t, pwrite, (int file, const void* bytes, size_t size, off_t at), file, (file, bytes, size, at))
ONE(ssize_t, pwrite64, (int file, const void* bytes, size_t size, off64_t at), file, (file, bytes, size, at))
ONE(ssize_t, writev, (int file, const iovec* parts, int many), file, (file, parts, many))
ONE(int, fsync, (int file), file, (file))
ONE(int, fdatasync, (int file), file, (file))
ONE(ssize_t, copy_file_range, (int from, off64_t* at, int to, off64_t* to_at, size_t size, unsigned how), to,
    (from, at, to, to_at, size, how))
ONE_NOEXCEPT(ssize_t, sendfile, (int to, int from, off_t* at, size_t size), to, (to, from, at, size))
ONE_NOEXCEPT(int, ftruncate, (int file, off_t size), file, (file, size))
ONE_NOEXCEPT(int, ftruncate64, (int file, off64_t size), file, (file, size))
ONE_NOEXCEPT(int, flock, (int file, int how), file, (file, how))
ONE_NOEXCEPT(int, rename, (const char* from, const char* to), from, (from, to))
ONE_NOEXCEPT(int, link, (const char* from, const char* to), from, (from, to))
ONE_NOEXCEPT(int, unlink, (const char* path), path, (path))
ONE_NOEXCEPT(int, remove, (const char* path), path, (path))
ONE_NOEXCEPT(int, rmdir, (const char* path), path, (path))
ONE_NOEXCEPT(int, mkdir, (const char* path, mode_t mode), path, (path, mode))
ONE_NOEXCEPT(int, chmod, (const char* path, mode_t mode), path, (path, mode))
ONE_NOEXCEPT(int, fchmod, (int file, mode_t mode), file, (file, mode))
ONE_NOEXCEPT(int, access, (const char* path, int how), path, (path, how))
ONE_NOEXCEPT(int, stat, (const char* path, struct stat* into), path, (path, into))
ONE_NOEXCEPT(int, lstat, (const char* path, struct stat* into), path, (path, into))
ONE_NOEXCEPT(int, fstat, (int file, struct stat* into), file, (file, into))
ONE_NOEXCEPT(int, stat64, (const char* path, struct stat64* into), path, (path, into))
ONE_NOEXCEPT(int, lstat64, (const char* path, struct stat64* into), path, (path, into))
ONE_NOEXCEPT(int, fstat64, (int file, struct stat64* into), file, (file, into))
ONE_NOEXCEPT(int, statvfs, (const char* path, struct statvfs* into), path, (path, into))
}
