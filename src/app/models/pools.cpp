#include "app/models/pools.h"

#include "jobs/trouble.h"

#include <QObject>
#include <opencv2/core/utility.hpp>

#include <atomic>
#include <memory>

namespace yelvin {

Pools::Pools() {
    // Pages are worked on side by side; OpenCV's own threads on top of that only make everybody wait.
    cv::setNumThreads(1);
    pages_.setMaxThreadCount(2);
    reading_.setMaxThreadCount(2);
    for (QThreadPool* pool :
         {&pictures_, &parts_, &pieces_, &keeping_, &saving_, &cabinet_, &finding_, &sending_, &errands_})
        pool->setMaxThreadCount(1);
}

void Pools::end_saving() {
    stop_.request_stop();
    saving_.clear();
    saving_.waitForDone();
    done_.load(std::memory_order_acquire); // as with what is handed over
}

void Pools::stop() {
    end_saving();
    for (QThreadPool* pool : {&pages_, &reading_, &pictures_, &parts_, &pieces_, &finding_, &sending_, &errands_})
        pool->clear();
    for (QThreadPool* pool :
         {&pages_, &reading_, &pictures_, &parts_, &pieces_, &finding_, &sending_, &errands_, &keeping_, &cabinet_})
        pool->waitForDone();
    done_.load(std::memory_order_acquire);
}

namespace {

// What the one thread did before it handed the task over has happened for the other. Qt sees to that as well, but not
// in a way that the thread sanitizer sees.
Task handed_over(Task task) {
    auto handed = std::make_shared<std::atomic<bool>>(false);
    handed->store(true, std::memory_order_release);
    return [handed = std::move(handed), task = std::move(task)] {
        if (handed->load(std::memory_order_acquire)) task();
    };
}

}

Executor Pools::on(QThreadPool& pool) {
    return [this, &pool](Task task) {
        pool.start([this, task = handed_over(std::move(task))] {
            if (const auto done = caught("work in the background", task); !done && on_trouble) on_trouble(done.error());
            done_.fetch_add(1, std::memory_order_release);
        });
    };
}

Executor on_thread_of(QObject* object) {
    return
        [object](Task task) { QMetaObject::invokeMethod(object, handed_over(std::move(task)), Qt::QueuedConnection); };
}

}
