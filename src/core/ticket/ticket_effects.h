// What a ticket does beyond the window: where it puts files, what it starts, and to whom it sends or mails.
#pragma once

#include "core/ticket/ticket.h"

#include <string>
#include <vector>

namespace yelvin {

// Returns one line for each, as it continues "This ticket …": "saves in ~/Leases", "sends each file to https://…".
// Shown to a person before a ticket from elsewhere is used, so everything that leaves the window has to be among them.
std::vector<std::string> effects_of(const Ticket& ticket);

}
