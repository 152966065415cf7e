// How often something is tried that happens at random moments: a few times in CI, as often as YELVIN_TRIALS says by
// hand.
#pragma once

#include <cstdlib>
#include <string>

namespace yelvin::test {

inline int trials(int in_ci) {
    const char* by_hand = std::getenv("YELVIN_TRIALS"); // NOLINT(concurrency-mt-unsafe): never set by a test
    return by_hand ? std::stoi(by_hand) : in_ci;
}

}
