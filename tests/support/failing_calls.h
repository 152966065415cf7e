// What the program, or a library for it, asks of the file system, and one of these calls that fails.
#pragma once

#include <filesystem>

namespace yelvin::test {

// While it lives, calls about anything below `folder` are counted, on all threads, and the one of the number `at` (from
// 0) fails with `code` and is not carried out; a close is, and fails. One at a time. It stands in for libc's functions,
// in programs that are linked with it: what libc calls within itself is not seen, but for what stdio does.
class FailingCalls {
  public:
    FailingCalls(const std::filesystem::path& folder, int at, int code);
    ~FailingCalls();
    FailingCalls(const FailingCalls&) = delete;
    FailingCalls& operator=(const FailingCalls&) = delete;
    int calls() const; // so far
};

}
