// What a command tells a person at a terminal while it works: one line on standard error that is written over itself.
// Nothing is printed where standard error is not a terminal, or with --quiet.
#pragma once

#include <chrono>
#include <mutex>
#include <string>

namespace yelvin {

// Thread-safe. A sentence that is printed with say() while the line is shown goes above it.
class ProgressLine {
  public:
    // The one line of this process's standard error.
    static ProgressLine& of_standard_error();

    void silence() { is_shown_ = false; } // for --quiet; call it before the work begins
    // Begins to measure the time that show() foretells the rest of.
    void begin();
    // "page 3 of 12, 8 s left". The time is given from the first finished page on.
    void show(size_t done, size_t of);
    void show(const std::string& words);
    void clear();
    // Prints a line of its own on standard error.
    void say(const std::string& sentence);

  private:
    ProgressLine();
    std::mutex mutex_;
    bool is_shown_;
    size_t width_ = 0; // of what stands there
    std::chrono::steady_clock::time_point begun_;

    void write(const std::string& words);
};

}
