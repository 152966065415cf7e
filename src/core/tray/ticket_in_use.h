// The tickets that decide what becomes of documents. A document names one by its id, and several documents may name the
// same one. Undo restores the id, not what the ticket said at that time. Immutable values; the functions are pure.
#pragma once

#include "core/error.h"
#include "core/ticket/ticket.h"

#include <map>
#include <memory>
#include <string>

namespace yelvin {

struct TicketInUse {
    Ticket ticket;
    std::string file = {};       // file name of the kept ticket that was chosen; empty: none
    std::string instead_of = {}; // for choices of single documents: the id of the ticket that they had before
};
using TicketInUsePtr = std::shared_ptr<const TicketInUse>;
using TicketsInUse = std::map<std::string, TicketInUsePtr>; // by id; no pointer is null

nlohmann::json to_json(const TicketInUse& in_use);
// Errors: BadInput if the JSON is not understood.
Result<TicketInUse> ticket_in_use_from_json(const nlohmann::json& json);

}
