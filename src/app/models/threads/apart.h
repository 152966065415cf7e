// Running work that touches a file system which may never answer, such as a share whose network is gone. It runs on a
// detached thread of its own, so that no pool loses a thread and the program's end does not wait for it.
#pragma once

#include "core/error.h"
#include "jobs/trouble.h"

#include <QObject>

#include <chrono>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>

namespace yelvin {

// Calls `work` on a detached thread and then `then` on the thread of `context`, by its event loop, if `context` still
// exists. `work` must not refer to objects that may be destroyed meanwhile.
void run_apart(QObject* context, std::function<void()> work, std::function<void()> then);

// A time limit: after it, `then` gets the error `otherwise`, and a later answer is ignored.
struct Patience {
    std::chrono::milliseconds limit;
    Error otherwise;
};
Patience patience_with(const std::filesystem::path& file); // 4 s, with the error that the file does not respond
void after_patience(QObject* context, std::chrono::milliseconds limit, std::function<void()> then);

// Calls `work`, which returns a Result, on a detached thread, and `then` once with the result, on the thread of
// `context`. An exception becomes an error. `where` is for the log. For lifetimes see run_apart().
template <class Work, class Then>
void apart(QObject* context, const char* where, Work work, Then then, std::optional<Patience> patience = {}) {
    using Value = std::invoke_result_t<Work>;
    struct Answer {
        std::optional<Value> value; // written before it is handed over
        bool is_told = false;
    };
    const auto answer = std::make_shared<Answer>();
    const auto tell = [answer, then](const Value& value) {
        if (!std::exchange(answer->is_told, true)) then(value);
    };
    run_apart(
        context, [answer, work, where] { answer->value.emplace(caught(where, work)); },
        [answer, tell] { tell(*answer->value); });
    if (patience)
        after_patience(context, patience->limit,
                       [tell, why = patience->otherwise] { tell(Value(std::unexpected(why))); });
}

}
