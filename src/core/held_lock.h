// A file lock that is held as long as its object lives. The kernel releases it at the end of the process as well, but a
// process with a thread that hangs in the kernel (on a share that does not answer) may not end for a long time. Such a
// process calls release_all() before it exits.
#pragma once

#include <utility>

namespace yelvin {

class HeldLock {
  public:
    HeldLock() = default; // holds nothing
    // Takes ownership of an open file that is locked or will be. -1: holds nothing.
    explicit HeldLock(int descriptor);
    HeldLock(HeldLock&& other) noexcept : descriptor_(std::exchange(other.descriptor_, -1)) {}
    HeldLock& operator=(HeldLock&& other) noexcept {
        std::swap(descriptor_, other.descriptor_);
        return *this;
    }
    ~HeldLock();

    int descriptor() const { return descriptor_; } // -1 if nothing is held

    // Unlocks the files of all objects of this process; the files stay open. Thread-safe. The caller must end the
    // process right afterwards, because the objects do not know that their locks are gone.
    static void release_all();

  private:
    int descriptor_ = -1;
};

}
