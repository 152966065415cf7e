// Executors that are controlled by a test.
#pragma once

#include "jobs/executor.h"

#include <deque>

namespace yelvin::test {

// Runs its tasks when the test says so.
class ByHand {
  public:
    Executor executor() {
        return [this](Task task) { tasks_.push_back(std::move(task)); };
    }
    size_t waiting() const { return tasks_.size(); }
    void run_one() {
        const Task task = std::move(tasks_.front());
        tasks_.pop_front();
        task();
    }
    void run_all() {
        while (!tasks_.empty()) run_one();
    }

  private:
    std::deque<Task> tasks_;
};

inline const Executor at_once = [](const Task& task) { task(); };

}
