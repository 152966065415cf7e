// How often something that happens at random moments is tried: a few times in CI, and by hand as often as YELVIN_TRIALS
// says.
#pragma once

#include <cstdlib>
#include <string>

namespace yelvin::test {

inline int trials(int in_ci) {
    const char* by_hand = std::getenv("YELVIN_TRIALS"); // NOLINT(concurrency-mt-unsafe): never set by a test
    return by_hand ? std::stoi(by_hand) : in_ci;
}

}
