// A thread pool of the desk that is blocked for a while: tasks wait.
#pragma once

#include "jobs/executor.h"

#include <condition_variable>
#include <memory>
#include <mutex>
#include <stop_token>

namespace yelvin::test {

class Held {
  public:
    // Blocks each of its `threads` until open(), or until `stop` is requested, as at the end of the desk.
    Held(const Executor& pool, int threads, const std::stop_token& stop) : gate_(std::make_shared<Gate>()) {
        for (int i = 0; i < threads; ++i)
            pool([gate = gate_, stop] {
                std::unique_lock lock(gate->guard);
                gate->opened.wait(lock, stop, [&] { return gate->is_open; });
            });
    }
    Held(const Held&) = delete;
    Held& operator=(const Held&) = delete;
    ~Held() { open(); }
    void open() {
        const std::lock_guard lock(gate_->guard);
        gate_->is_open = true;
        gate_->opened.notify_all();
    }

  private:
    struct Gate {
        std::mutex guard;
        std::condition_variable_any opened;
        bool is_open = false;
    };
    std::shared_ptr<Gate> gate_;
};

}
