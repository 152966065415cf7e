// Carries out an operation while one call of the file system after the other fails.
#pragma once

#include "core/error.h"
#include "support/failing_calls.h"
#include "support/support.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cerrno>
#include <functional>
#include <optional>

namespace yelvin::test {

struct Operation {
    std::function<void(const std::filesystem::path& folder)> prepare;             // what is there before it
    std::function<std::optional<Error>(const std::filesystem::path& folder)> act; // its error, if it says one
    // What must hold afterwards, when no call fails any more.
    std::function<void(const std::filesystem::path& folder, bool succeeded)> holds;
    int every = 1; // of thousands of calls, those of one kind fail often enough at each so many
};

inline std::optional<Error> error_in(const auto& result) {
    return result ? std::nullopt : std::optional<Error>(result.error());
}

// Carries out the operation once for each call that it makes, and for each error code, until none fails any more.
// Before each time, everything that the operation changes is made again.
inline void each_call_fails(const Operation& operation) {
    int said = 0;
    for (const auto& [code, step] : {std::pair{EIO, 1}, {ENOSPC, 3}, {EACCES, 3}})
        for (int at = 0;; at += step * operation.every) {
            SCOPED_TRACE(fmt::format("call {} gives {}", at, code));
            const TempFolder folder;
            if (operation.prepare) operation.prepare(folder.path());
            std::optional<Error> error;
            int calls = 0;
            {
                const FailingCalls failing(folder.path(), at, code);
                error = operation.act(folder.path());
                calls = failing.calls();
            }
            if (error) {
                ++said;
                EXPECT_FALSE(error->sentence.empty());
                EXPECT_NE(error->kind, ErrorKind::Internal) << error->sentence << " " << error->detail;
            }
            operation.holds(folder.path(), !error);
            if (testing::Test::HasFatalFailure()) return;
            if (calls > at) continue;
            EXPECT_FALSE(error) << "nothing failed: " << error->sentence;
            break;
        }
    EXPECT_GT(said, 0) << "no call mattered";
}

}
