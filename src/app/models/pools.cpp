#include "app/models/pools.h"

#include <QObject>
#include <opencv2/core/utility.hpp>

namespace yelvin {

Pools::Pools() {
    // Pages are worked on side by side; OpenCV's own threads on top of that only make everybody wait.
    cv::setNumThreads(1);
    pages_.setMaxThreadCount(2);
    reading_.setMaxThreadCount(2);
    for (QThreadPool* pool : {&pictures_, &keeping_, &saving_}) pool->setMaxThreadCount(1);
}

void Pools::stop() {
    stop_.request_stop();
    for (QThreadPool* pool : {&pages_, &reading_, &pictures_, &saving_}) pool->clear();
    for (QThreadPool* pool : {&pages_, &reading_, &pictures_, &saving_, &keeping_}) pool->waitForDone();
}

Executor Pools::on(QThreadPool& pool) {
    return [&pool](Task task) { pool.start(std::move(task)); };
}

Executor on_thread_of(QObject* object) {
    return [object](Task task) { QMetaObject::invokeMethod(object, std::move(task), Qt::QueuedConnection); };
}

}
