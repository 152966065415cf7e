#include "core/held_lock.h"

#include <sys/file.h>
#include <unistd.h>

#include <mutex>
#include <set>

namespace yelvin {

namespace {

struct Held {
    std::mutex guard;
    std::set<int> descriptors;
};

Held& held() {
    static Held all;
    return all;
}

}

HeldLock::HeldLock(int descriptor) : descriptor_(descriptor) {
    if (descriptor < 0) return;
    const std::lock_guard lock(held().guard);
    held().descriptors.insert(descriptor);
}

HeldLock::~HeldLock() {
    if (descriptor_ < 0) return;
    const std::lock_guard lock(held().guard);
    held().descriptors.erase(descriptor_);
    ::close(descriptor_);
}

void HeldLock::release_all() {
    const std::lock_guard lock(held().guard);
    for (const int descriptor : held().descriptors) ::flock(descriptor, LOCK_UN);
}

}
