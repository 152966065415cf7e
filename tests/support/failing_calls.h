// The calls of the program and its libraries to the file system, of which one fails.
#pragma once

#include <filesystem>

namespace yelvin::test {

// While it exists, calls for anything below `folder` are counted on all threads, and the one with the number `at` (from
// 0) fails with `code` and is not carried out; a close is carried out and fails. Only one may exist. It replaces libc's
// functions in programs that are linked with it: calls within libc are not seen, except those of stdio.
class FailingCalls {
  public:
    FailingCalls(const std::filesystem::path& folder, int at, int code);
    ~FailingCalls();
    FailingCalls(const FailingCalls&) = delete;
    FailingCalls& operator=(const FailingCalls&) = delete;
    int calls() const; // so far
};

}
