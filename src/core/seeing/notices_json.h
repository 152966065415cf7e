// Notices as JSON, in the tray's database.
#pragma once

#include "core/seeing/notice.h"

#include <nlohmann/json.hpp>

namespace yelvin {

nlohmann::json to_json(const Notices& notices);
Notices notices_from_json(const nlohmann::json& json); // throws nlohmann::json::exception for values of other types

}
