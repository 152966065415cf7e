// What stands in the rows of the tray's database.
#pragma once

#include "core/tray/tray.h"

namespace yelvin {

nlohmann::json page_json(const Page& page);
// What a person or the engine wrote that is no UTF-8 does not keep the tray from being kept.
std::string row_of(const Page& page);
// Throws std::exception where it is not understood, or says what cannot be: a picture without dots, a file elsewhere.
Page page_from_json(const std::string& id, const nlohmann::json& json);

// A name that a file of ours in the store's folder may have.
bool is_original_name(const std::string& file);

}
