// The ticket's file: JSON, stable, one file a ticket. Keys this version does not know survive a load and a save. A
// wrong value is an Error that names its key, what it was and what is allowed; the file is then left alone.
#pragma once

#include "core/error.h"
#include "core/ticket/ticket.h"

#include <filesystem>
#include <string_view>

namespace yelvin {

Result<Ticket> ticket_from_json(const nlohmann::json& json);
nlohmann::json ticket_to_json(const Ticket& ticket);

Result<Ticket> load_ticket(const std::filesystem::path& file);

// One `key=value` as on the command line: the key with dots ("how.dpi"), the value as JSON or, failing that, as words.
Result<Ticket> with_setting(const Ticket& ticket, std::string_view assignment);

}
