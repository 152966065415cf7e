// One program at a time has a store. The lock goes with the program, however it ends.
#pragma once

#include "core/error.h"
#include "core/held_lock.h"

#include <filesystem>

namespace yelvin {

class StoreLock {
  public:
    // Makes the folder where it is not there. Errors: Busy where another program has the store; NotWritable.
    static Result<StoreLock> take(const std::filesystem::path& folder, const char* name = "lock");

  private:
    explicit StoreLock(int descriptor) : held_(descriptor) {}
    HeldLock held_;
};

}
