#include "app/models/apart.h"

#include "app/models/pools.h"

#include <fmt/format.h>

#include <QTimer>

#include <mutex>
#include <thread>

namespace yelvin {

namespace {

// Through which a thread reaches its context, as long as that is there.
struct Post {
    std::mutex guard;
    QObject* to = nullptr;
};

}

void run_apart(QObject* context, std::function<void()> work, std::function<void()> then) {
    const auto post = std::make_shared<Post>();
    auto* relay = new QObject(context); // goes with it, or once this is through
    post->to = relay;
    QObject::connect(relay, &QObject::destroyed, [post] {
        const std::lock_guard lock(post->guard);
        post->to = nullptr;
    });
    std::thread([post, work = std::move(work), then = std::move(then)] {
        work();
        const std::lock_guard lock(post->guard);
        if (!post->to) return;
        on_thread_of(post->to)([relay = post->to, then] {
            relay->deleteLater();
            then();
        });
    }).detach();
}

Patience patience_with(const std::filesystem::path& file) {
    constexpr std::chrono::milliseconds limit{4000};
    return {
        limit,
        {ErrorKind::Missing, fmt::format("{} does not answer; see whether its network is there.", file.string()), {}}};
}

void after_patience(QObject* context, std::chrono::milliseconds limit, std::function<void()> then) {
    QTimer::singleShot(limit, context, std::move(then));
}

}
