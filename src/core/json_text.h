// JSON as it comes from files, which anybody may have written or damaged.
#pragma once

#include <nlohmann/json.hpp>

#include <optional>
#include <stdexcept>
#include <string_view>

namespace yelvin {

// Nothing where the text is no JSON, or nested more than 100 deep: whoever walks it would run out of stack.
std::optional<nlohmann::json> json_from_text(std::string_view text);

// A choice that is kept as its number, up to `last`. Throws std::exception for anything else.
template <class Enum>
Enum choice_from_json(const nlohmann::json& value, Enum last) {
    const int number = value.get<int>();
    if (number < 0 || number > static_cast<int>(last)) throw std::range_error("a choice that there is not");
    return static_cast<Enum>(number);
}

}
