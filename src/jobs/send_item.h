// A file that is to be sent to a server, and the rules by which its state changes.
#pragma once

#include "core/sending/delivery.h"

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <string>

namespace yelvin {

// A file in the queue. A value: a snapshot of the time when items() was called.
struct SendItem {
    long long id = 0;
    std::string document;
    std::filesystem::path from; // where the file was when it was added
    Server server;
    RemotePath folder;
    std::string name;
    // Stored as numbers: add new ones at the end.
    enum class State { Waiting, Sending, Paused, NeedsPassword, Failed, Sent } state = State::Waiting;
    std::string why;                     // one sentence: the reason for the state; may be empty
    Remote::Identity identity = {};      // what the server presented, if that may be accepted; not stored
    int tries = 0;                       // failed attempts so far
    std::chrono::sys_seconds next_try{}; // while it is waiting
    std::uint64_t done = 0, bytes = 0;   // sent so far, while it is being sent; the size of the file
    std::string url;                     // where it is, once it was sent

    // Makes it due at once, as if it had not been tried.
    void start_again();
    // Records how an attempt ended. `remote` is the server it was sent to; null if it could not be reached. An item
    // that was paused meanwhile stays paused unless it was sent.
    void end_attempt(const Result<Sent>& how, const Remote* remote, std::chrono::sys_seconds now);
};

// How long to wait before the next attempt after `tries` failed ones: from 5 s to 15 min.
std::chrono::seconds pause_after(int tries);

}
