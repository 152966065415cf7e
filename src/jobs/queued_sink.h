// A queue of limited size between a scanner and a sink that writes to disk. The sink is called on a thread of its own,
// so that a slow disk or compression does not stall the feeder, and memory does not grow with the stack.
#pragma once

#include "core/scanner/scanner.h"

#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>
#include <variant>

namespace yelvin {

class QueuedSink : public PageSink {
  public:
    // `behind` is called on the queue's thread only and must outlive this object. A full queue (`most_bytes`) blocks
    // the caller.
    explicit QueuedSink(PageSink& behind, size_t most_bytes = 96U << 20);
    ~QueuedSink() override;
    QueuedSink(const QueuedSink&) = delete;
    QueuedSink& operator=(const QueuedSink&) = delete;

    // Each returns an error of the sink behind, from this or an earlier call. Called by one thread.
    Result<void> begin_page(const PageStart& start) override;
    Result<void> strip(const cv::Mat& rows) override; // shares the pixels: they must not be written to afterwards
    Result<void> end_page() override;
    // Waits until the sink behind has taken everything.
    Result<void> finish();

  private:
    struct EndPage {};
    using Item = std::variant<PageStart, cv::Mat, EndPage>;
    PageSink& behind_;
    size_t most_bytes_, bytes_ = 0;
    std::mutex mutex_;
    std::condition_variable changed_;
    std::deque<Item> items_;
    bool working_ = false, closed_ = false;
    Result<void> outcome_;
    std::thread thread_;

    Result<void> put(Item item, size_t bytes);
    Result<void> take(const Item& item);
    void run();
};

}
