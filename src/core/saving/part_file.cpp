#include "core/saving/part_file.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <fstream>
#include <optional>
#include <random>
#include <sstream>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr std::string_view part_begin = ".yelvin-", part_end = ".part";
constexpr auto long_enough = std::chrono::hours(24 * 7); // an upload that still runs has written something since

struct Writer {
    std::string host;
    pid_t process = 0;
    unsigned long long start = 0; // of the process, in clock ticks after the computer's start: proc(5), stat, field 22
};

// Identifies the computer by its machine-id(5) and its host name, because copies of a disk image share the former.
std::string this_host() {
    std::string id;
    std::ifstream("/etc/machine-id") >> id;
    std::array<char, 256> name{};
    ::gethostname(name.data(), name.size() - 1);
    std::uint64_t hash = 0xcbf29ce484222325U; // FNV-1a, 64 bits: offset basis and prime as published by its authors
    for (const char c : id + ' ' + name.data()) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3U;
    return fmt::format("{:08x}", static_cast<std::uint32_t>(hash ^ hash >> 32));
}

// Returns the start time of the process, or nothing if no such process runs. A zombie process does not count.
std::optional<unsigned long long> start_of(pid_t process) {
    std::ifstream file(fmt::format("/proc/{}/stat", process));
    std::string line;
    if (!std::getline(file, line)) return std::nullopt;
    const size_t after_name = line.rfind(')'); // the name may contain spaces and brackets
    if (after_name == std::string::npos) return std::nullopt;
    std::istringstream fields(line.substr(after_name + 1));
    std::string state, skipped;
    fields >> state;
    constexpr int first = 4, start_field = 22;
    for (int i = first; i < start_field; ++i) fields >> skipped;
    unsigned long long start = 0;
    if (state == "Z" || state == "X" || !(fields >> start)) return std::nullopt;
    return start;
}

std::optional<Writer> writer_of(const std::string& name) {
    std::string middle = name.substr(part_begin.size(), name.size() - part_begin.size() - part_end.size());
    for (char& c : middle)
        if (c == '-') c = ' ';
    std::istringstream fields(middle);
    Writer writer;
    std::string random, more;
    if (!(fields >> writer.host >> writer.process >> writer.start >> random) || fields >> more) return std::nullopt;
    return writer;
}

enum class Lock { Free, Held, Unknown };

Lock lock_on(const fs::path& file) {
    const int descriptor = ::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOFOLLOW);
    if (descriptor < 0) return Lock::Unknown;
    const int code = ::flock(descriptor, LOCK_EX | LOCK_NB) == 0 ? 0 : errno;
    ::close(descriptor);
    return code == 0 ? Lock::Free : code == EWOULDBLOCK ? Lock::Held : Lock::Unknown;
}

bool is_old(const fs::path& file) {
    struct stat about {};
    if (::lstat(file.c_str(), &about) != 0) return false;
    return std::chrono::system_clock::now() - std::chrono::system_clock::from_time_t(about.st_mtime) > long_enough;
}

}

std::string new_part_name() {
    static const std::string host = this_host();
    std::random_device random;
    const pid_t process = ::getpid();
    return fmt::format("{}{}-{}-{}-{:08x}{:08x}{}", part_begin, host, process, start_of(process).value_or(0), random(),
                       random(), part_end);
}

bool is_part_name(const std::string& name) {
    return name.size() > part_begin.size() + part_end.size() && name.starts_with(part_begin) &&
           name.ends_with(part_end);
}

bool is_abandoned(const fs::path& part_file) {
    const std::string name = part_file.filename().string();
    if (!is_part_name(name) || lock_on(part_file) == Lock::Held) return false;
    const auto writer = writer_of(name);
    if (!writer || writer->host != this_host() || writer->start == 0) return is_old(part_file);
    return start_of(writer->process) != writer->start;
}

}
