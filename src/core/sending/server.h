// A server that files are sent to, as the user entered it: WebDAV (RFC 4918) or SFTP.
//
// Everything here is a value or a pure function and may be used on any thread.
#pragma once

#include "core/error.h"

#include <nlohmann/json_fwd.hpp>

#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

enum class ServerKind { WebDav, Sftp };

struct Server {
    std::string name;        // what the user calls it
    std::string address;     // "https://host:port/folder", "http://…" or "sftp://…"; no password in it
    std::string user;        // empty: no sign-in
    std::string fingerprint; // of the one certificate or host key that is trusted; empty: trust those that the system's
                             // authorities or known hosts confirm
    std::string key_file;    // SFTP: path of a private key; empty: the agent's keys, then the password
    // Whether the password may be sent to an http:// address by Basic sign-in, where others on the network can read it.
    bool plain_password = false;
    bool operator==(const Server&) const = default;
};
nlohmann::json to_json(const Server& server);
// Reads what to_json() wrote. Values that are missing or have another type keep their default.
Server server_from_json(const nlohmann::json& json);

// The parts of an address (RFC 3986).
struct ServerAddress {
    ServerKind kind = ServerKind::WebDav;
    bool secure = true; // TLS or SSH
    std::string scheme, host;
    int port = 0;                    // 0: the scheme's default
    std::vector<std::string> folder; // decoded, from the outermost to the innermost
    bool at_home = false;            // SFTP: the address begins with "/~/", the user's home folder
    std::string origin() const;      // scheme, host and port
};
// Parses an address with libcurl's URL API. Errors: Usage, with what is wrong: another scheme, no host, a user or
// password in the address, a query, "..". The sentence never contains a password.
Result<ServerAddress> address_of(std::string_view address);

// Returns the address as it may be shown: without the part before an @, which may be a password.
std::string shown_address(std::string_view address);

// A folder or file below the server's address, from the outermost folder to the innermost name. Empty: the address
// itself.
using RemotePath = std::vector<std::string>;
// Returns "/" and the percent-encoded part for each part of the path.
std::string encoded_path(const RemotePath& path);
// Encodes everything but unreserved characters (RFC 3986, 2.3).
std::string percent_encoded(std::string_view text);

}
