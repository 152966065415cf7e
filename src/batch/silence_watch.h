// Ends a scan whose scanner sends nothing any more. Used by `yelvin-batch scan`, where no user may be present to stop
// it.
#pragma once

#include "batch/progress.h"
#include "core/scanner/scanner.h"

#include <fmt/format.h>

#include <atomic>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <stop_token>
#include <thread>

namespace yelvin {

// Watches from its construction to its destruction, on a thread of its own. Writes a note to standard error when the
// scanner becomes silent.
class SilenceWatch {
  public:
    // `scanner` must outlive this object.
    SilenceWatch(const Scanner& scanner, double longest_seconds)
        : scanner_(scanner), longest_seconds_(longest_seconds),
          thread_([this](const std::stop_token& over) { watch(over); }) {}

    std::stop_token stop() const { return stop_.get_token(); } // requested after `longest_seconds` of silence
    bool too_long() const { return too_long_; }

  private:
    const Scanner& scanner_;
    const double longest_seconds_;
    std::stop_source stop_;
    std::atomic<bool> too_long_ = false;
    std::jthread thread_; // uses all others

    void watch(const std::stop_token& over) {
        constexpr std::chrono::milliseconds interval{250};
        std::mutex mutex;
        std::unique_lock lock(mutex);
        std::condition_variable_any never_notified;
        bool noted = false;
        while (!over.stop_requested()) {
            never_notified.wait_for(lock, over, interval, [] { return false; });
            const std::chrono::duration<double> silent = scanner_.silent_for();
            const bool is_silent = silent.count() > 0;
            if (is_silent && !noted)
                ProgressLine::of_standard_error().say(fmt::format(
                    "Note: {} is sending nothing; waiting up to {:.0f} s.", scanner_.title(), longest_seconds_));
            noted = is_silent;
            if (silent.count() < longest_seconds_) continue;
            too_long_ = true;
            stop_.request_stop();
            return;
        }
    }
};

}
