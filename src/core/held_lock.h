// A lock file that is held while the object lives. The lock also ends with the process; but a process in which a thread
// hangs in the kernel, on a share that does not answer, may not end for a long time. Such a process gives its locks
// back before it tries to.
#pragma once

#include <utility>

namespace yelvin {

class HeldLock {
  public:
    HeldLock() = default; // none
    // Takes over an open file that a lock is held on, or will be; -1: none. It is closed with the object.
    explicit HeldLock(int descriptor);
    HeldLock(HeldLock&& other) noexcept : descriptor_(std::exchange(other.descriptor_, -1)) {}
    HeldLock& operator=(HeldLock&& other) noexcept {
        std::swap(descriptor_, other.descriptor_);
        return *this;
    }
    ~HeldLock();

    int descriptor() const { return descriptor_; } // -1: none

    // Unlocks what all objects of this process hold; their files stay open. Thread-safe. Whoever calls it ends the
    // process right after, since nothing else knows that the locks are gone.
    static void give_all_back();

  private:
    int descriptor_ = -1;
};

}
