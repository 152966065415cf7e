// The thread pools of the window, one for each kind of work, and ending them together. Used on the window's thread.
#pragma once

#include "core/error.h"
#include "jobs/executor.h"
#include "jobs/tsan_order.h"

#include <QThreadPool>

#include <stop_token>

class QObject;

namespace yelvin {

class Pools {
  public:
    Pools();
    Executor pages() { return on(pages_); }       // checking pages and working on them
    Executor reading() { return on(reading_); }   // OCR
    Executor pictures() { return on(pictures_); } // thumbnails and other pictures
    Executor parts() { return on(parts_); }       // the visible part of a page; one task at a time
    Executor pieces() { return on(pieces_); }     // stitching; in order
    Executor keeping() { return on(keeping_); }   // the tray's database; in order
    Executor saving() { return on(saving_); }     // saving documents; in order
    Executor moving() { return on(moving_); }     // renaming and moving saved files; in order
    Executor cabinet() { return on(cabinet_); }   // the cabinet; in order
    Executor finding() { return on(finding_); }   // searching the cabinet; in order
    Executor sending() { return on(sending_); }   // files to servers; in order
    Executor errands() { return on(errands_); }   // printers and other slow things outside; in order
    std::stop_token stop_token() const { return stop_.get_token(); }
    // The first part of stop(): begins no other document, waits until files are moved, and leaves the results in the
    // event loop.
    void end_saving();
    // Drops tasks that have not begun, except those of keeping(), and waits for the others. Call it before the objects
    // that the tasks use are destroyed.
    void stop();

    // Called on any thread with an exception of a task. Set it before the first task.
    std::function<void(const Error&)> on_trouble;

  private:
    QThreadPool pages_, reading_, pictures_, parts_, pieces_, keeping_, saving_, moving_, cabinet_, finding_, sending_,
        errands_;
    std::stop_source stop_;
    TsanOrder done_; // between tasks
    Executor on(QThreadPool& pool);
};

// Returns an executor that runs tasks on the thread of `object`, by its event loop. `object` must outlive the executor;
// tasks that are pending when it is destroyed are dropped.
Executor on_thread_of(QObject* object);
// Returns such an executor that may outlive `object`: later tasks are dropped. Call this function on the thread of
// `object`.
Executor on_thread_while_there(QObject* object);

}
