// One program at a time has a store. The lock goes with the program, however it ends.
#pragma once

#include "core/error.h"

#include <filesystem>
#include <utility>

namespace yelvin {

class StoreLock {
  public:
    // Makes the folder where it is not there. Errors: Busy where another program has the store; NotWritable.
    static Result<StoreLock> take(const std::filesystem::path& folder, const char* name = "lock");
    StoreLock(StoreLock&& other) noexcept : descriptor_(std::exchange(other.descriptor_, -1)) {}
    StoreLock& operator=(StoreLock&&) = delete;
    ~StoreLock();

  private:
    explicit StoreLock(int descriptor) : descriptor_(descriptor) {}
    int descriptor_;
};

}
