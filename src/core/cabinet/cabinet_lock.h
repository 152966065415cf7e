// The lock of a cabinet. Everyone who opens the cabinet shares it; only a process that has it exclusively may replace
// the file. On a file system without locks everyone gets it.
//
// Not thread-safe. The lock ends with the process, however it ends.
#pragma once

#include "core/error.h"
#include "core/held_lock.h"

#include <filesystem>

namespace yelvin {

class CabinetLock {
  public:
    CabinetLock() = default; // holds nothing
    // Shares the lock of the cabinet in this folder. Errors: Busy if another process is rebuilding it.
    static Result<CabinetLock> take(const std::filesystem::path& folder);
    // Shares the lock without creating its file, for a reader. If the file does not exist, nobody has opened the
    // cabinet for writing, and there is nothing to lock. Errors: those of take().
    static Result<CabinetLock> take_to_read(const std::filesystem::path& folder);

    // Makes the lock exclusive. Errors: Busy if others have the cabinet open; the lock is then still shared.
    Result<void> take_alone();
    void share();

  private:
    explicit CabinetLock(int descriptor) : held_(descriptor) {}
    static Result<CabinetLock> shared(int descriptor);
    HeldLock held_;
};

}
