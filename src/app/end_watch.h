// Sees to it that the program ends. A thread that waits for a share or a device that does not answer would keep the
// process, and with it the locks of the out tray and the cabinet, for ever.
#pragma once

#include <chrono>
#include <memory>

namespace yelvin {

class EndWatch {
  public:
    // Where the object still lives after `limit`, the locks are given back and the process ends with `status`, without
    // destructors. What is to be kept is written within milliseconds; what was being saved is saved at the next start.
    EndWatch(std::chrono::milliseconds limit, int status);
    ~EndWatch(); // all has ended by itself
    EndWatch(const EndWatch&) = delete;
    EndWatch& operator=(const EndWatch&) = delete;

  private:
    struct State;
    std::shared_ptr<State> state_; // shared with its thread
};

}
