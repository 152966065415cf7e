// Errors as values. Whatever can fail returns Result<T>; its Error carries one sentence that a person can act on
// (what happened, to which page or file, what to do) and a detail for a log.
#pragma once

#include <expected>
#include <string>
#include <utility>

namespace yelvin {

enum class ErrorKind {
    BadInput,
    Missing,
    NotWritable,
    DiskFull,
    Encrypted,
    Stopped,
    Usage,
    Internal,
    // What a scanner can report (core/scanner/faults.h).
    Device, // whatever has no kind of its own
    Jam,
    TwoSheets,
    FeederEmpty,
    LidOpen,
    Busy,
    Offline,
    NoAnswer, // it is connected and sends nothing
    AccessDenied,
    NoMemory,
    WrongSetting,
    Unsupported,
    // What a server can.
    Untrusted, // it does not prove who it is
};

struct Error {
    ErrorKind kind = ErrorKind::Internal;
    std::string sentence; // shown as it is
    std::string detail;   // for a log; may be empty
    bool operator==(const Error&) const = default;
};

template <class T>
using Result = std::expected<T, Error>;

inline std::unexpected<Error> fail(ErrorKind kind, std::string sentence, std::string detail = {}) {
    return std::unexpected(Error{kind, std::move(sentence), std::move(detail)});
}
inline std::unexpected<Error> stopped() { return fail(ErrorKind::Stopped, "Stopped."); }

}
