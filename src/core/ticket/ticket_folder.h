// The user's tickets: a folder of JSON files, one for each ticket, that can be copied and shared. A file that cannot be
// read is reported and left alone. The functions block on the disk and may be called on any thread.
#pragma once

#include "core/error.h"
#include "core/ticket/ticket.h"

#include <filesystem>
#include <string>
#include <vector>

namespace yelvin {

// A ticket in the folder.
struct KeptTicket {
    std::filesystem::path file;
    Ticket ticket; // what counts: with the halves that it takes from other tickets
    Ticket own;    // what its file says
    // The files of the tickets that it takes halves from, directly or through others.
    std::vector<std::filesystem::path> follows;
    std::string trouble;    // sentences about halves that cannot be taken and are as last known; empty: none
    bool may_write = false; // whether the user may write the file
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

// Reads all tickets in the folder. A folder that does not exist has none.
TicketFolder read_tickets(const std::filesystem::path& folder);

// Reads one ticket, with the halves that it takes from others in the same folder. Errors: those of load_ticket().
Result<KeptTicket> load_with_halves(const std::filesystem::path& file);

// The tickets that a new user gets: everyday paper, photographs, receipts, archive.
std::vector<Ticket> first_tickets();

// Writes a ticket, whole or not at all, and returns its file. With an empty `file`, a free file name is made from the
// ticket's name; otherwise that file is replaced. Errors: those of replace_file().
Result<std::filesystem::path> keep_ticket(const std::filesystem::path& folder, const Ticket& ticket,
                                          const std::filesystem::path& file = {});

// Returns `name`, or `name` with the first free number if a ticket has that name.
std::string free_ticket_name(const TicketFolder& folder, const std::string& name);

// Returns the keys of the choices that differ, as the file names them: "how.dpi", "save.name", "scan_like". Empty if
// and only if the choices are the same; a ticket's name and colour are not choices.
std::vector<std::string> changed_choices(const Ticket& before, const Ticket& now);

}
