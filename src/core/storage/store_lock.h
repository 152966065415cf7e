// A lock file that lets one process at a time use a store. The lock ends with this object and with the process, however
// it ends. take() does not wait for the other process; it may be called on any thread.
#pragma once

#include "core/error.h"
#include "core/held_lock.h"

#include <filesystem>

namespace yelvin {

class StoreLock {
  public:
    // Takes the lock, creating the folder if it is missing. Errors: Busy if another process has the lock; NotWritable.
    static Result<StoreLock> take(const std::filesystem::path& folder, const char* name = "lock");

  private:
    explicit StoreLock(int descriptor) : held_(descriptor) {}
    HeldLock held_;
};

}
