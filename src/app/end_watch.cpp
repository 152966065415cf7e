#include "app/end_watch.h"

#include "core/held_lock.h"
#include "jobs/trouble.h"

#include <condition_variable>
#include <cstdlib>
#include <mutex>
#include <thread>

namespace yelvin {

struct EndWatch::State {
    std::mutex guard;
    std::condition_variable changed;
    bool has_ended = false;
};

EndWatch::EndWatch(std::chrono::milliseconds limit, int status) : state_(std::make_shared<State>()) {
    std::thread([state = state_, limit, status] {
        std::unique_lock lock(state->guard);
        if (state->changed.wait_for(lock, limit, [&] { return state->has_ended; })) return;
        log_trouble("a background task did not end; the program exits without waiting for it");
        HeldLock::release_all();
        std::_Exit(status);
    }).detach();
}

EndWatch::~EndWatch() {
    const std::lock_guard lock(state_->guard);
    state_->has_ended = true;
    state_->changed.notify_all();
}

}
