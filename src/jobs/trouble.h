// No exception leaves its room: where work begins (a task of a pool, a thread, an event) whatever it throws ends,
// becomes a sentence for the person and a line in the log.
#pragma once

#include "core/error.h"

#include <exception>
#include <filesystem>
#include <functional>
#include <type_traits>

namespace yelvin {

// From now on troubles are written into yelvin.log in this folder: three files of 1 MB at most, the latest last.
// Nothing that was read from a page is in them. A crash leaves its signal in a file of its own there. Once, at the
// start.
void start_log(const std::filesystem::path& folder);
void log_trouble(const std::string& what);
// Whether the program crashed the last time it had this log; asked once, it is forgotten.
bool crashed_last_time(const std::filesystem::path& folder);

// What an exception says to the person: NoMemory, or Internal with its own words as the detail. It is logged.
Error error_of(const std::exception_ptr& thrown, const char* where);

// Does the work; an exception becomes an Error. `where` is for the log: "looking at a page".
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
