#include "jobs/trouble.h"

#include "core/private_files.h"

#include <fmt/format.h>
#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

#include <fcntl.h>
#include <unistd.h>

#include <array>
#include <csignal>
#include <cstring>
#include <new>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr const char* crash_file = "crashed";
std::array<char, 4096> crash_path{}; // Prepared here, because a signal handler must not allocate.

void note_crash(int signal) {
    const int file = ::open(crash_path.data(), O_CREAT | O_WRONLY | O_TRUNC | O_CLOEXEC, 0600);
    if (file >= 0) ::close(file);
    ::raise(signal); // The handler was reset, so the signal now ends the program.
}

std::shared_ptr<spdlog::logger>& log() {
    static std::shared_ptr<spdlog::logger> logger;
    return logger;
}

}

void start_log(const fs::path& folder) {
    make_private_folder(folder);
    const std::string path = (folder / crash_file).string();
    if (path.size() < crash_path.size()) {
        std::memcpy(crash_path.data(), path.c_str(), path.size() + 1);
        struct sigaction action {};
        action.sa_handler = note_crash;
        action.sa_flags = static_cast<int>(SA_RESETHAND | SA_NODEFER);
        for (const int signal : {SIGSEGV, SIGABRT, SIGBUS, SIGFPE, SIGILL}) ::sigaction(signal, &action, nullptr);
    }
    try {
        constexpr size_t bytes = 1'000'000, files = 3;
        spdlog::file_event_handlers handlers; // Also applied to files that the rotation creates.
        handlers.before_open = [](const spdlog::filename_t& file) { make_private_file(file); };
        log() = spdlog::rotating_logger_mt("yelvin", (folder / "yelvin.log").string(), bytes, files, false, handlers);
        log()->flush_on(spdlog::level::info);
        log()->set_pattern("%Y-%m-%d %H:%M:%S %v");
    } catch (const spdlog::spdlog_ex&) {
        log().reset(); // Scanning works without a log.
    }
}

void log_trouble(const std::string& what) {
    if (log()) log()->error(what);
}

bool crashed_last_time(const fs::path& folder) {
    std::error_code failure;
    return fs::remove(folder / crash_file, failure);
}

Error error_of(const std::exception_ptr& thrown, const char* where) {
    Error error{ErrorKind::Internal, {}, {}};
    const auto out_of_memory = [&] {
        error.kind = ErrorKind::NoMemory;
        error.detail = "out of memory";
        error.sentence = fmt::format(
            "Not enough memory ({}); close other programs or lower the resolution. Nothing was lost.", where);
    };
    try {
        std::rethrow_exception(thrown);
    } catch (const std::bad_alloc&) {
        out_of_memory();
    } catch (const std::exception& failure) {
        error.detail = failure.what();
        // OpenCV's own error for missing memory.
        if (error.detail.find("(-4:Insufficient memory)") != std::string::npos) out_of_memory();
    } catch (...) {
        error.detail = "an exception of an unknown type";
    }
    if (error.sentence.empty())
        error.sentence = fmt::format(
            "An internal error occurred ({}). Nothing was lost; the log has details. Please report it.", where);
    log_trouble(fmt::format("{}: {}", where, error.detail));
    return error;
}

}
