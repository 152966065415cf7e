#include "app/models/threads/pools.h"

#include "jobs/trouble.h"
#include "jobs/tsan_order.h"

#include <QObject>
#include <opencv2/core/utility.hpp>

#include <mutex>

namespace yelvin {

Pools::Pools() {
    // Pages are processed in parallel. Threads of OpenCV in addition to that would only slow all of them down.
    cv::setNumThreads(1);
    pages_.setMaxThreadCount(2);
    reading_.setMaxThreadCount(2);
    for (QThreadPool* pool :
         {&pictures_, &parts_, &pieces_, &keeping_, &saving_, &moving_, &cabinet_, &finding_, &sending_, &errands_})
        pool->setMaxThreadCount(1);
}

void Pools::end_saving() {
    stop_.request_stop();
    saving_.clear();
    saving_.waitForDone();
    moving_.waitForDone();
    done_.take();
}

void Pools::stop() {
    end_saving();
    for (QThreadPool* pool : {&pages_, &reading_, &pictures_, &parts_, &pieces_, &finding_, &sending_, &errands_})
        pool->clear();
    for (QThreadPool* pool :
         {&pages_, &reading_, &pictures_, &parts_, &pieces_, &finding_, &sending_, &errands_, &keeping_, &cabinet_})
        pool->waitForDone();
    done_.take();
}

namespace {

// A task that Qt transports to another thread.
class HandedOver {
  public:
    explicit HandedOver(Task task) : task_(std::move(task)) { order_.give(); }
    HandedOver(const HandedOver& other) : task_((other.order_.take(), other.task_)) { order_.give(); }
    HandedOver(HandedOver&& other) noexcept : task_((other.order_.take(), std::move(other.task_))) { order_.give(); }
    HandedOver& operator=(const HandedOver&) = delete;
    HandedOver& operator=(HandedOver&&) = delete;
    ~HandedOver() { order_.take(); }

    void operator()() const {
        const TsanScope in(order_);
        task_();
    }

  private:
    TsanOrder order_;
    Task task_;
};

}

Executor Pools::on(QThreadPool& pool) {
    return [this, &pool](Task task) {
        pool.start(HandedOver([this, task = std::move(task)] {
            if (const auto done = caught("work in the background", task); !done && on_trouble) on_trouble(done.error());
            done_.give();
        }));
    };
}

namespace {

// Lets other threads post tasks to an object as long as it exists.
struct Post {
    std::mutex guard;
    QObject* to = nullptr;
};

}

Executor on_thread_while_there(QObject* object) {
    const auto post = std::make_shared<Post>();
    post->to = object;
    QObject::connect(object, &QObject::destroyed, [post] {
        const std::lock_guard lock(post->guard);
        post->to = nullptr;
    });
    return [post](Task task) {
        const std::lock_guard lock(post->guard);
        if (post->to) on_thread_of(post->to)(std::move(task));
    };
}

Executor on_thread_of(QObject* object) {
    return
        [object](Task task) { QMetaObject::invokeMethod(object, HandedOver(std::move(task)), Qt::QueuedConnection); };
}

}
