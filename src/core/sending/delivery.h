// One file to a server, once and only once: under a name of its own first, then moved to the first name that is free.
// What was begun is written down before it is done, so that whoever goes on after a break knows what the server may
// have done.
#pragma once

#include "core/sending/remote.h"

namespace yelvin {

struct Delivery {
    std::filesystem::path file;
    RemotePath folder; // below the server's address; made where it is missing
    std::string name;  // as it is wished; the next free number where it is taken
    std::string token; // of this delivery alone, for ever: letters and digits
};

// How far it is; empty at the beginning.
struct DeliveryState {
    enum class At {
        Begin,   // nothing is there that counts
        Naming,  // all of it is there under its own name, and may have been moved to name `attempt`
        Putting, // the server cannot move: it may stand, whole or in part, under name `attempt`
    } at = At::Begin;
    int attempt = 0; // 0: the name as it is
    bool operator==(const DeliveryState&) const = default;
};

struct Sent {
    std::string url;
    std::uint64_t bytes = 0;
    std::string name; // under which it arrived
};

// `record` makes a state last before it returns; an Error there ends the delivery. Errors: as Remote; Missing where the
// file is gone; BadInput where what arrived is not what was sent.
Result<Sent> deliver(Remote& remote, const Delivery& delivery, DeliveryState state,
                     const std::function<Result<void>(const DeliveryState&)>& record, const Remote::Progress& progress);

// Of what is not whole there yet: of no other file, and seen by those who look into the folder as what it is.
std::string part_name(const std::string& token);
// "Lease.pdf", "Lease (2).pdf", …
std::string name_of_attempt(const std::string& name, int attempt);

// What works of a server, step by step, in this order; the steps behind one that does not are left out.
struct ServerStep {
    enum class What { Name, Connection, Certificate, SignIn, Folder, Writing, Room } what = What::Name;
    bool ok = false;
    std::string words;
    bool warns = false;       // it works, but there is something to know
    Remote::Shown shown = {}; // of a certificate or host key that was not accepted
};
const char* step_word(ServerStep::What what); // "name", "connection", …
void test_server(const Server& server, const SignIn& sign_in, const RemotePath& folder, const std::stop_token& stop,
                 const std::function<void(const ServerStep&)>& tell);

}
