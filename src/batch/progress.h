// The progress line on standard error, which is overwritten in place. Nothing is printed if standard error is not a
// terminal, or with
// --quiet.
#pragma once

#include <chrono>
#include <mutex>
#include <string>

namespace yelvin {

// Thread-safe. Sentences that are printed with say() appear above the line.
class ProgressLine {
  public:
    // The one line of this process's standard error.
    static ProgressLine& of_standard_error();

    void silence() { is_shown_ = false; } // for --quiet; call it before the work begins
    // Starts measuring, so that show() can estimate the time left.
    void begin();
    // Shows "page 3 of 12, 8 s left"; the time from the first finished page on.
    void show(size_t done, size_t of);
    void show(const std::string& words);
    void clear();
    // Prints a sentence on standard error. Curly quotation marks become straight ones, as is usual on the command line.
    void say(const std::string& sentence);

  private:
    ProgressLine();
    std::mutex mutex_;
    bool is_shown_;
    size_t width_ = 0; // of the line shown
    std::chrono::steady_clock::time_point begun_;

    void write(const std::string& words);
};

}
