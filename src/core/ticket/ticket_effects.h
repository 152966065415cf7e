// What a ticket does outside the window: where it saves files, what it starts, and to whom it sends or mails.
#pragma once

#include "core/ticket/ticket.h"

#include <string>
#include <vector>

namespace yelvin {

// Returns one line for each effect, as a continuation of "This ticket …": "saves in ~/Leases", "sends each file to
// https://…". The user sees them before a ticket from elsewhere is used, so the list must be complete. A pure function.
std::vector<std::string> effects_of(const Ticket& ticket);

}
