// Pages as JSON, for the rows of the tray's database. Internal to core/tray.
#pragma once

#include "core/tray/tray.h"

namespace yelvin {

nlohmann::json page_json(const Page& page);
// Returns the JSON text of a page. Bytes that are not UTF-8 are replaced, so that the tray can always be stored.
std::string row_of(const Page& page);
// Throws std::exception if the JSON is not understood or describes something impossible: a picture without pixels, a
// file outside the store.
Page page_from_json(const std::string& id, const nlohmann::json& json);

// Whether an original in the store may have this file name.
bool is_original_name(const std::string& file);

}
