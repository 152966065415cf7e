#include "batch/progress.h"

#include "core/shown_text.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <string_view>

#include <unistd.h>

namespace yelvin {

namespace {

std::string time_words(double seconds) {
    const auto whole = std::lround(seconds);
    return whole < 120 ? fmt::format("{} s", whole) : fmt::format("{} min", (whole + 30) / 60);
}

}

ProgressLine& ProgressLine::of_standard_error() {
    static ProgressLine line;
    return line;
}

ProgressLine::ProgressLine() : begun_(std::chrono::steady_clock::now()) {
    const char* terminal = std::getenv("TERM"); // NOLINT(concurrency-mt-unsafe): never set by this program
    is_shown_ = ::isatty(STDERR_FILENO) == 1 && std::string_view(terminal ? terminal : "") != "dumb";
}

// The cursor stays at the beginning of the line, so that the next output overwrites it.
void ProgressLine::write(const std::string& words) {
    const size_t padding = width_ > words.size() ? width_ - words.size() : 0;
    fmt::print(stderr, "{}{:{}}\r", words, "", padding);
    std::fflush(stderr);
    width_ = words.size();
}

void ProgressLine::begin() {
    const std::scoped_lock lock(mutex_);
    begun_ = std::chrono::steady_clock::now();
}

void ProgressLine::show(size_t done, size_t of) {
    const std::scoped_lock lock(mutex_);
    if (!is_shown_) return;
    const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - begun_;
    const double left = passed.count() / static_cast<double>(done) * static_cast<double>(of - done);
    const std::string time = done == 0 || done >= of ? "" : ", " + time_words(left) + " left";
    write(fmt::format("page {} of {}{}", std::min(done + 1, of), of, time));
}

void ProgressLine::show(const std::string& words) {
    const std::scoped_lock lock(mutex_);
    if (is_shown_) write(words);
}

void ProgressLine::clear() {
    const std::scoped_lock lock(mutex_);
    if (!is_shown_ || width_ == 0) return;
    write("");
}

void ProgressLine::say(const std::string& sentence) {
    std::string shown = shown_text(sentence);
    for (const std::string_view curly : {"“", "”"})
        for (size_t at = 0; (at = shown.find(curly, at)) != std::string::npos; ++at)
            shown.replace(at, curly.size(), 1, '"');
    const std::scoped_lock lock(mutex_);
    if (is_shown_ && width_ > 0) write("");
    fmt::print(stderr, "{}\n", shown);
}

}
