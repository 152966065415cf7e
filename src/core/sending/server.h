// A place on a server, as a person names it once: by WebDAV (RFC 4918) or SFTP.
#pragma once

#include "core/error.h"

#include <nlohmann/json_fwd.hpp>

#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

enum class ServerKind { WebDav, Sftp };

struct Server {
    std::string name;        // what the person calls it
    std::string address;     // "https://host:port/folder", "http://…" or "sftp://…"; no password in it
    std::string user;        // empty: nobody signs in
    std::string fingerprint; // of a certificate or host key that was looked at and accepted; empty: those that the
                             // system's authorities or known hosts vouch for
    std::string key_file;    // SFTP: a private key; empty: the agent's, then the password
    // Whether the password may go to an http:// address by Basic sign-in, which shows it to everybody on the way.
    bool plain_password = false;
    bool operator==(const Server&) const = default;
};
nlohmann::json to_json(const Server& server);
Server server_from_json(const nlohmann::json& json); // what is missing or of another type is empty

// The parts of an address (RFC 3986).
struct ServerAddress {
    ServerKind kind = ServerKind::WebDav;
    bool secure = true; // TLS or SSH
    std::string scheme, host;
    int port = 0;                    // 0: the usual one
    std::vector<std::string> folder; // decoded, one after the other
    bool at_home = false;            // SFTP: "/~/", in the person's own folder
    std::string origin() const;      // scheme, host and port
};
// Takes an address apart, by libcurl's URL API. Errors: Usage, with what is wrong with it: another scheme, no host, a
// password or user in it, a query, "..". A password in the address is in no part of the sentence.
Result<ServerAddress> address_of(std::string_view address);

// Returns the address as it may be shown: without what stands before an @, which may be a password.
std::string shown_address(std::string_view address);

// A folder or file below the server's address.
using RemotePath = std::vector<std::string>;
// Each part with everything but unreserved characters encoded (RFC 3986, 2.3), after a slash each.
std::string encoded_path(const RemotePath& path);
std::string percent_encoded(std::string_view text);

}
