#include "jobs/queued_sink.h"

#include "jobs/trouble.h"

namespace yelvin {

namespace {
size_t bytes_of(const cv::Mat& rows) { return rows.total() * rows.elemSize(); }
}

QueuedSink::QueuedSink(PageSink& behind, size_t most_bytes)
    : behind_(behind), most_bytes_(most_bytes), thread_([this] { run(); }) {}

QueuedSink::~QueuedSink() {
    {
        const std::scoped_lock lock(mutex_);
        closed_ = true;
        changed_.notify_all();
    }
    thread_.join();
}

Result<void> QueuedSink::put(Item item, size_t bytes) {
    std::unique_lock lock(mutex_);
    changed_.wait(lock, [&] { return bytes_ == 0 || bytes_ + bytes <= most_bytes_ || !outcome_; });
    if (!outcome_) return outcome_;
    bytes_ += bytes;
    items_.push_back(std::move(item));
    changed_.notify_all();
    return {};
}

Result<void> QueuedSink::begin_page(const PageStart& start) { return put(start, 0); }
Result<void> QueuedSink::strip(const cv::Mat& rows) { return put(rows, bytes_of(rows)); }
Result<void> QueuedSink::end_page() { return put(EndPage{}, 0); }

Result<void> QueuedSink::finish() {
    std::unique_lock lock(mutex_);
    changed_.wait(lock, [&] { return (items_.empty() && !working_) || !outcome_; });
    return outcome_;
}

Result<void> QueuedSink::take(const Item& item) {
    if (const auto* start = std::get_if<PageStart>(&item)) return behind_.begin_page(*start);
    if (const auto* rows = std::get_if<cv::Mat>(&item)) return behind_.strip(*rows);
    return behind_.end_page();
}

void QueuedSink::run() {
    for (;;) {
        Item item;
        {
            std::unique_lock lock(mutex_);
            changed_.wait(lock, [&] { return closed_ || !items_.empty(); });
            if (items_.empty()) return;
            item = std::move(items_.front());
            items_.pop_front();
            working_ = true;
        }
        Result<void> taken;
        if (outcome_) // written on this thread only
            taken = caught("storing a page", [&] { return take(item); });
        const std::scoped_lock lock(mutex_);
        if (const auto* rows = std::get_if<cv::Mat>(&item)) bytes_ -= bytes_of(*rows);
        if (!taken && outcome_) outcome_ = taken;
        working_ = false;
        changed_.notify_all();
    }
}

}
