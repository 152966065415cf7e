// The threads behind the window, a pool for each kind of work, and how they come to an end together.
#pragma once

#include "core/error.h"
#include "jobs/executor.h"
#include "jobs/told_order.h"

#include <QThreadPool>

#include <stop_token>

class QObject;

namespace yelvin {

class Pools {
  public:
    Pools();
    Executor pages() { return on(pages_); }       // looking at pages and working on them
    Executor reading() { return on(reading_); }   // their text
    Executor pictures() { return on(pictures_); } // thumbnails and the like
    Executor parts() { return on(parts_); }       // what of a page is on screen; one at a time
    Executor pieces() { return on(pieces_); }     // putting pieces together; in order
    Executor keeping() { return on(keeping_); }   // the tray's database; in order
    Executor saving() { return on(saving_); }     // documents; in order
    Executor moving() { return on(moving_); }     // saved files that get another name or place; in order
    Executor cabinet() { return on(cabinet_); }   // what is kept of saved papers; in order
    Executor finding() { return on(finding_); }   // papers by their words; in order
    Executor sending() { return on(sending_); }   // files to servers; in order
    Executor errands() { return on(errands_); }   // printers and what else is slow outside; in order
    std::stop_token stop_token() const { return stop_.get_token(); }
    // The first part of stop(): no document is begun any more, files that are to move have moved, and what there is to
    // tell of both waits in the event loop.
    void end_saving();
    // What has not begun is given up, but for what is to be kept; then waits for the rest. Before what it works on
    // goes.
    void stop();

    // Told, on whatever thread, of what a task let escape. Set before anything is handed over.
    std::function<void(const Error&)> on_trouble;

  private:
    QThreadPool pages_, reading_, pictures_, parts_, pieces_, keeping_, saving_, moving_, cabinet_, finding_, sending_,
        errands_;
    std::stop_source stop_;
    ToldOrder done_; // of tasks
    Executor on(QThreadPool& pool);
};

// On the thread of `object`, by its event loop; not at all once it is gone.
Executor on_thread_of(QObject* object);
// The same for whoever may outlive the object and hand something over after it is gone, which is dropped then. To be
// made on the object's thread.
Executor on_thread_while_there(QObject* object);

}
