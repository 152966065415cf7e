// Errors as values. Every function that can fail returns Result<T>. Its Error has one sentence that a user can act on
// (what happened, to which page or file, what to do) and a detail for the log.
#pragma once

#include <expected>
#include <string>
#include <utility>

namespace yelvin {

enum class ErrorKind {
    BadInput,    // a file, an address or a value is damaged or not understood
    Missing,     // a file or folder does not exist
    NotWritable, // a file or folder cannot be written
    DiskFull,
    Encrypted, // a password is needed, or was wrong
    Stopped,   // the user stopped it
    Usage,     // wrong arguments
    Internal,  // a fault of the program
    // Reported by scanners (core/scanner/faults.h).
    Device, // a fault without a kind of its own
    Jam,
    TwoSheets,
    FeederEmpty,
    LidOpen,
    Busy,
    Offline,
    NoAnswer, // the device is connected and sends nothing
    AccessDenied,
    NoMemory,
    WrongSetting,
    Unsupported,
    // Reported by servers.
    Untrusted, // the server's identity is not confirmed
};

struct Error {
    ErrorKind kind = ErrorKind::Internal;
    std::string sentence; // shown to the user unchanged
    std::string detail;   // for the log; may be empty
    bool operator==(const Error&) const = default;
};

template <class T>
using Result = std::expected<T, Error>;

inline std::unexpected<Error> fail(ErrorKind kind, std::string sentence, std::string detail = {}) {
    return std::unexpected(Error{kind, std::move(sentence), std::move(detail)});
}
inline std::unexpected<Error> stopped() { return fail(ErrorKind::Stopped, "Stopped."); }

}
