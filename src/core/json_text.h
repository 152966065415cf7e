// Parsing JSON that comes from files, which may be damaged or hostile. Thread-safe.
#pragma once

#include <nlohmann/json.hpp>

#include <optional>
#include <stdexcept>
#include <string_view>

namespace yelvin {

// Returns nullopt if the text is not JSON or is nested more than 100 deep, which could exhaust the stack of code that
// walks it. Never throws.
std::optional<nlohmann::json> json_from_text(std::string_view text);

// Converts a number from 0 to `last` to an enumerator. Throws std::exception for anything else.
template <class Enum>
Enum choice_from_json(const nlohmann::json& value, Enum last) {
    const int number = value.get<int>();
    if (number < 0 || number > static_cast<int>(last)) throw std::range_error("a choice that there is not");
    return static_cast<Enum>(number);
}

}
