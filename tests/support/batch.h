// Runs yelvin-batch for the tests.
#pragma once

#include "support/support.h"

#include <nlohmann/json.hpp>

#include <sstream>

namespace yelvin::test {

using nlohmann::json;

inline Ran batch(std::vector<std::string> arguments) {
    arguments.insert(arguments.begin(), YELVIN_BATCH);
    return run(arguments);
}

inline std::vector<std::string> lines(const std::string& text) {
    std::vector<std::string> out;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) out.push_back(line);
    return out;
}

}
