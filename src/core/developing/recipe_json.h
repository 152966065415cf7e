// The stored form of recipes and their corrections: in the tray's database, and in tickets.
#pragma once

#include "core/developing/recipe.h"

#include <nlohmann/json.hpp>

namespace yelvin {

// Only what is not at rest; switches as true. The names are those of the table in core/developing/adjust.h.
nlohmann::json to_json(const Adjust& adjust);
// What cannot be read is at rest, what is out of range is brought into it.
Adjust adjust_from_json(const nlohmann::json& json);
std::optional<PickedColour> colour_from_text(const std::string& text); // "#rrggbb"
nlohmann::json to_json(const Recipe& recipe);
Recipe recipe_from_json(const nlohmann::json& json); // throws nlohmann::json::exception for values of other types
nlohmann::json spots_json(const std::vector<Spot>& spots);
std::vector<Spot> spots_from_json(const nlohmann::json& array);

}
