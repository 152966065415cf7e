// The tickets a person has: a folder of JSON files, one each, that can be copied and shared. A file that cannot be read
// is named and left alone.
#pragma once

#include "core/ticket/ticket_json.h"

#include <filesystem>
#include <string>
#include <vector>

namespace yelvin {

struct KeptTicket {
    std::filesystem::path file;
    Ticket ticket; // with the halves that it takes from others
    Ticket own;    // as its file says
    // The files of the tickets whose halves it takes, and of those that they take theirs from.
    std::vector<std::filesystem::path> follows;
    std::string trouble;    // a half that cannot be taken, which is as it was last known: sentences; else empty
    bool may_write = false; // the file
    bool may_change() const { return may_write && !own.fixed; }
};
struct DamagedTicket {
    std::filesystem::path file;
    Error error; // names the file, what is wrong in it and what to do
};
struct TicketFolder {
    std::vector<KeptTicket> tickets; // by name
    std::vector<DamagedTicket> damaged;
};

// A folder that is not there has no tickets.
TicketFolder read_tickets(const std::filesystem::path& folder);

// The ticket in the file, with the halves that it takes from others in the same folder.
Result<KeptTicket> load_with_halves(const std::filesystem::path& file);

// What a new user finds: everyday paper, photographs, receipts, archive.
std::vector<Ticket> first_tickets();

// Written whole or not at all. With an empty `file`, under a free name made from the ticket's own; else in the place of
// that file, which keeps its name. Gives the file.
Result<std::filesystem::path> keep_ticket(const std::filesystem::path& folder, const Ticket& ticket,
                                          const std::filesystem::path& file = {});

// The name, or the name with the first free number behind it.
std::string free_ticket_name(const TicketFolder& folder, const std::string& name);

// Returns the keys of the choices that differ, as the file names them: "how.dpi", "save.name", "scan_like". Empty if
// and only if the choices are the same; a ticket's name and colour are not choices.
std::vector<std::string> changed_choices(const Ticket& before, const Ticket& now);

}
