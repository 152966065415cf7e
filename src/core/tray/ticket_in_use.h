// The tickets that documents go by. A document names one by its id, and several documents may name the same: undo leads
// back to a ticket, not to what the ticket said at that time.
#pragma once

#include "core/error.h"
#include "core/ticket/ticket.h"

#include <map>
#include <memory>
#include <string>

namespace yelvin {

struct TicketInUse {
    Ticket ticket;
    std::string file = {};       // of the kept ticket that was chosen for it; empty: none was
    std::string instead_of = {}; // of choices for single documents: the id of the ticket they had before; else empty
};
using TicketInUsePtr = std::shared_ptr<const TicketInUse>;
using TicketsInUse = std::map<std::string, TicketInUsePtr>; // by id; no pointer is null

nlohmann::json to_json(const TicketInUse& in_use);
// Error BadInput where it is not understood.
Result<TicketInUse> ticket_in_use_from_json(const nlohmann::json& json);

}
