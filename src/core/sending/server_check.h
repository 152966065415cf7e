// Tests a server that the user has entered, step by step, and says of each step whether it works.
#pragma once

#include "core/sending/remote.h"

#include <functional>
#include <stop_token>
#include <string>

namespace yelvin {

// The result of one step. The steps run in the order of `What`.
struct ServerStep {
    enum class What { Name, Connection, Certificate, SignIn, Folder, Writing, Room } what = What::Name;
    bool ok = false;
    std::string words;              // one sentence for the user
    bool warns = false;             // the step works, but there is something to know
    Remote::Identity identity = {}; // the certificate or host key, if it is not trusted yet
};

// The name of a step as yelvin-batch prints it: "name", "connection", and so on.
const char* step_name(ServerStep::What what);

// Runs the steps and calls `tell` with each result, on the calling thread. Ends after the first step that fails and
// once `stop` is requested; the steps that were not run are not told. Leaves no file on the server. Blocks on the
// network.
void test_server(const Server& server, const SignIn& sign_in, const RemotePath& folder, const std::stop_token& stop,
                 const std::function<void(const ServerStep&)>& tell);

}
