// Delivers one file to a server exactly once.
//
// The file is first uploaded under a temporary name and then moved to the first free name, so a reader of the folder
// never sees a partial file. Every step is recorded before it is taken: a delivery that was interrupted (crash, power
// cut, lost connection) continues from its record without uploading twice or overwriting anything.
#pragma once

#include "core/sending/remote.h"

namespace yelvin {

// What is to be delivered. A value.
struct Delivery {
    std::filesystem::path file;
    RemotePath folder; // below the server's address; created if it is missing
    std::string name;  // the name wanted; if it is taken, the next free number is added
    std::string token; // letters and digits; identifies this delivery and must never be used for another
};

// How far a delivery has come. Default-constructed, nothing was begun.
struct DeliveryState {
    enum class Phase {
        Begin,           // nothing on the server counts
        Moving,          // the whole file is there under part_name(), or was moved to the name numbered `attempt`
        PuttingDirectly, // the server cannot move files: the file may be there, whole or in part, under that name
    } phase = Phase::Begin;
    int attempt = 0; // the number of the name, see name_of_attempt()
    bool operator==(const DeliveryState&) const = default;
};

// A file that arrived.
struct Sent {
    std::string url;
    std::uint64_t bytes = 0;
    std::string name; // the name it has on the server
};

// Delivers the file, continuing from `state`. Blocks until the file has arrived, the stop token of `remote` is
// requested, or an error occurs. Not thread-safe with respect to `remote`.
//
// `record` must store the state durably before it returns; an error of `record` ends the delivery. `progress` is called
// on this thread with the number of bytes sent; it may be empty.
//
// Errors: those of Remote and of `record`; Missing if the file no longer exists; BadInput if it is not a regular file
// or if no name is free; Offline if the server's copy differs from the file, in which case the partial upload was
// removed and the delivery can be repeated.
Result<Sent> deliver(Remote& remote, const Delivery& delivery, DeliveryState state,
                     const std::function<Result<void>(const DeliveryState&)>& record, const Remote::Progress& progress);

// Name of the temporary upload. Unique to the delivery with this token and recognisable as unfinished.
std::string part_name(const std::string& token);

// Returns `name` for attempt 0, then "Lease (2).pdf", "Lease (3).pdf" and so on.
std::string name_of_attempt(const std::string& name, int attempt);

}
