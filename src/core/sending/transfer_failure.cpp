// Turns libcurl's error codes into sentences for people.
#include "core/sending/transfer.h"

#include <fmt/format.h>

namespace yelvin {

Error Transfer::failure(const Answer& answer) const {
    const std::string origin = address_.origin();
    const auto error = [&](ErrorKind kind, const std::string& sentence) { return Error{kind, sentence, answer.said}; };
    switch (answer.code) {
    case CURLE_ABORTED_BY_CALLBACK:
        return stopped().error();
    case CURLE_COULDNT_RESOLVE_HOST:
    case CURLE_COULDNT_RESOLVE_PROXY:
        return error(ErrorKind::Offline,
                     fmt::format("The server {} was not found; check its name and the network.", address_.host));
    case CURLE_COULDNT_CONNECT:
        return error(
            ErrorKind::Offline,
            fmt::format("{} is not responding; check the address and the network, or try again later.", origin));
    case CURLE_OPERATION_TIMEDOUT:
        return error(ErrorKind::Offline, fmt::format("{} stopped responding; try again later.", origin));
    case CURLE_PEER_FAILED_VERIFICATION:
    case CURLE_SSL_ISSUER_ERROR:
    case CURLE_SSL_CACERT_BADFILE:
        if (!identity_.fingerprint.empty())
            return error(ErrorKind::Untrusted,
                         fmt::format("{} is not trusted. {} Nothing was sent; its fingerprint is {}.", origin,
                                     identity_.words, identity_.fingerprint));
        return error(
            ErrorKind::Untrusted,
            fmt::format("The certificate of {} is for another name; nothing was sent. Check the address.", origin));
    case CURLE_LOGIN_DENIED:
    case CURLE_AUTH_ERROR:
        return error(ErrorKind::Encrypted,
                     fmt::format("{} refused to sign in {}; check the user name, the password or the key file.", origin,
                                 server_.user.empty() ? "an anonymous user" : server_.user));
    case CURLE_REMOTE_ACCESS_DENIED:
        return error(ErrorKind::AccessDenied,
                     fmt::format("{} denied access to {}; ask its administrator.", origin, server_.user));
    case CURLE_REMOTE_DISK_FULL:
        return error(ErrorKind::DiskFull,
                     fmt::format("There is no space left on {}; free some, or ask its administrator.", origin));
    case CURLE_WRITE_ERROR:
        return error(ErrorKind::BadInput, fmt::format("{} sent an endless answer; check the address.", origin));
    case CURLE_READ_ERROR:
        return error(ErrorKind::Missing, "The file to send can no longer be read; check that it still exists.");
    default:
        return error(ErrorKind::Offline, fmt::format("The connection to {} was lost; try again later.", origin));
    }
}

}
