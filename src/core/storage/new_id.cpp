#include "core/storage/new_id.h"

#include <fmt/format.h>

#include <sys/random.h>

#include <cstdint>
#include <random>

namespace yelvin {

std::string new_id() {
    std::uint64_t id = 0;
    if (getrandom(&id, sizeof id, 0) != sizeof id) { // never with so few bytes
        std::random_device random;
        id = std::uint64_t{random()} << 32 | random();
    }
    return fmt::format("{:016x}", id);
}

}
