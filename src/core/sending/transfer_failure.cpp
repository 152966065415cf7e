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
                     fmt::format("No server called {} is known; check its name and the network.", address_.host));
    case CURLE_COULDNT_CONNECT:
        return error(ErrorKind::Offline,
                     fmt::format("{} does not answer; check the address and the network, or try again later.", origin));
    case CURLE_OPERATION_TIMEDOUT:
        return error(ErrorKind::Offline, fmt::format("{} stopped answering; try again later.", origin));
    case CURLE_PEER_FAILED_VERIFICATION:
    case CURLE_SSL_ISSUER_ERROR:
    case CURLE_SSL_CACERT_BADFILE:
        if (!identity_.fingerprint.empty())
            return error(ErrorKind::Untrusted,
                         fmt::format("{} is not trusted. {} Nothing was sent; its fingerprint is {}.", origin,
                                     identity_.words, identity_.fingerprint));
        return error(ErrorKind::Untrusted,
                     fmt::format("The certificate that {} shows is not for that name; nothing was sent.", origin));
    case CURLE_LOGIN_DENIED:
    case CURLE_AUTH_ERROR:
        return error(ErrorKind::Encrypted,
                     fmt::format("{} does not let {} in; check the user, the password or the key.", origin,
                                 server_.user.empty() ? "anybody without a name" : server_.user));
    case CURLE_REMOTE_ACCESS_DENIED:
        return error(ErrorKind::AccessDenied, fmt::format("{} does not allow that to {}.", origin, server_.user));
    case CURLE_REMOTE_DISK_FULL:
        return error(ErrorKind::DiskFull, fmt::format("There is no more room at {}.", origin));
    case CURLE_WRITE_ERROR:
        return error(ErrorKind::BadInput, fmt::format("{} gave an answer without an end; check the address.", origin));
    case CURLE_READ_ERROR:
        return error(ErrorKind::Missing, "The file that is to be sent cannot be read any more.");
    default:
        return error(ErrorKind::Offline, fmt::format("The connection to {} broke off; try again later.", origin));
    }
}

}
