// Who has a cabinet open. Everybody who opens one shares its lock; only who has it alone may put another file in its
// place. A file system without locks lets everybody in.
//
// Not thread-safe. The lock goes with the process, however it ends.
#pragma once

#include "core/error.h"
#include "core/held_lock.h"

#include <filesystem>

namespace yelvin {

class CabinetLock {
  public:
    CabinetLock() = default; // of nothing
    // Shares the lock of the cabinet in this folder. Errors: Busy, another program is rebuilding it.
    static Result<CabinetLock> take(const std::filesystem::path& folder);
    // Shares the lock without creating its file, for a reader that changes nothing. If the file does not exist, nobody
    // has opened the cabinet for writing, and there is nothing to lock. Errors: Busy, as for take().
    static Result<CabinetLock> take_to_read(const std::filesystem::path& folder);

    // Takes the lock alone. Errors: Busy, others have the cabinet open; the lock is shared as before.
    Result<void> take_alone();
    void share();

  private:
    explicit CabinetLock(int descriptor) : held_(descriptor) {}
    static Result<CabinetLock> shared(int descriptor);
    HeldLock held_;
};

}
