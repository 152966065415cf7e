// Work that touches a file system which may never answer: a share whose network is gone, say. It runs on a thread of
// its own, which is left behind where it does not come back. No pool loses a thread by it, and the program's end does
// not wait for it.
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

// `work` on a thread of its own, then `then` on the thread of `context`, by its event loop; not once that is gone.
void run_apart(QObject* context, std::function<void()> work, std::function<void()> then);

// After this time `then` is told `otherwise`, and the answer is not taken any more.
struct Patience {
    std::chrono::milliseconds limit;
    Error otherwise;
};
Patience patience_with(const std::filesystem::path& file); // 4 s, and that it does not answer
void after_patience(QObject* context, std::chrono::milliseconds limit, std::function<void()> then);

// `work` gives a Result, and `then` is told it once; an exception becomes its error. `where` is for the log.
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
