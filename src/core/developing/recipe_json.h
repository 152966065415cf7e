// Recipes and corrections as JSON, in the tray's database and in tickets.
#pragma once

#include "core/developing/recipe.h"

#include <nlohmann/json.hpp>

namespace yelvin {

// Writes the corrections that are not at their default, switches as true, with the keys of adjust_fields().
nlohmann::json to_json(const Adjust& adjust);
// Values that cannot be read keep their default; others are limited to their range. Never throws.
Adjust adjust_from_json(const nlohmann::json& json);
std::optional<PickedColour> colour_from_text(const std::string& text); // "#rrggbb"
nlohmann::json to_json(const Recipe& recipe);
Recipe recipe_from_json(const nlohmann::json& json); // throws nlohmann::json::exception for values of other types
nlohmann::json spots_json(const std::vector<Spot>& spots);
std::vector<Spot> spots_from_json(const nlohmann::json& array);

}
