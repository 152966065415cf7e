// Catching exceptions where work begins (a task of a pool, a thread, an event) and turning them into a sentence for the
// user and a line in the log. Thread-safe.
#pragma once

#include "core/error.h"

#include <exception>
#include <filesystem>
#include <functional>
#include <type_traits>

namespace yelvin {

// Begins logging to yelvin.log in this folder, in at most three files of 1 MB. Never log anything that was read from a
// page. A crash writes its signal into a file of its own there. Call it once, at the start.
void start_log(const std::filesystem::path& folder);
void log_trouble(const std::string& what);
// Whether the program crashed the last time it used this log. Returns true only once.
bool crashed_last_time(const std::filesystem::path& folder);

// Turns an exception into an error (NoMemory, or Internal with its message as the detail) and logs it.
Error error_of(const std::exception_ptr& thrown, const char* where);

// Calls `work` and returns its Result; an exception becomes an error. `where` is for the log: "looking at a page".
template <class Work>
auto caught(const char* where, const Work& work) {
    using Value = std::invoke_result_t<Work>;
    if constexpr (std::is_void_v<Value>) {
        try {
            work();
            return Result<void>{};
        } catch (...) {
            return Result<void>{std::unexpected(error_of(std::current_exception(), where))};
        }
    } else {
        try {
            return work(); // a Result
        } catch (...) {
            return Value{std::unexpected(error_of(std::current_exception(), where))};
        }
    }
}

}
