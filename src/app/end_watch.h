// Ensures that the process ends. A thread that waits for a share or a device that does not answer would keep the
// process, and with it the locks of the out tray and the cabinet.
#pragma once

#include <chrono>
#include <memory>

namespace yelvin {

class EndWatch {
  public:
    // If this object still exists after `limit`, releases the locks and ends the process with `status`, without
    // destructors. What must be kept was written by then; what was being saved is saved at the next start.
    EndWatch(std::chrono::milliseconds limit, int status);
    ~EndWatch(); // everything ended in time
    EndWatch(const EndWatch&) = delete;
    EndWatch& operator=(const EndWatch&) = delete;

  private:
    struct State;
    std::shared_ptr<State> state_; // shared with the watching thread
};

}
