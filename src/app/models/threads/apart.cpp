#include "app/models/threads/apart.h"

#include "app/models/threads/pools.h"

#include <fmt/format.h>

#include <QTimer>

#include <thread>

namespace yelvin {

void run_apart(QObject* context, std::function<void()> work, std::function<void()> then) {
    auto* relay = new QObject(context); // Deleted with `context`, or after `then`.
    const Executor there = on_thread_while_there(relay);
    std::thread([there, relay, work = std::move(work), then = std::move(then)] {
        work();
        there([relay, then] {
            relay->deleteLater();
            then();
        });
    }).detach();
}

Patience patience_with(const std::filesystem::path& file) {
    constexpr std::chrono::milliseconds limit{4000};
    return {limit, {ErrorKind::Missing, fmt::format("{} is not responding; check the network.", file.string()), {}}};
}

void after_patience(QObject* context, std::chrono::milliseconds limit, std::function<void()> then) {
    QTimer::singleShot(limit, context, std::move(then));
}

}
