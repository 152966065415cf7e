// The ticket's file: JSON whose keys are stable, because users keep and share tickets. Keys that this version does not
// know survive a load and a save.
//
// Errors of all functions: BadInput for a wrong value, naming its key, what it was and what is allowed.
#pragma once

#include "core/error.h"
#include "core/ticket/ticket.h"

#include <filesystem>
#include <string_view>

namespace yelvin {

Result<Ticket> ticket_from_json(const nlohmann::json& json);
nlohmann::json ticket_to_json(const Ticket& ticket);

// Returns the word for a source in the ticket's file (from.source): "feeder-front".
std::string_view source_word(Source source);

// Reads a ticket's file. Errors also: Missing if it cannot be read.
Result<Ticket> load_ticket(const std::filesystem::path& file);

// Applies one `key=value` of the command line: the key with dots ("how.dpi"), the value as JSON or, if it is not JSON,
// as a text.
Result<Ticket> with_setting(const Ticket& ticket, std::string_view assignment);

}
