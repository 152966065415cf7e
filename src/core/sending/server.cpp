#include "core/sending/server.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <charconv>

namespace yelvin {

using nlohmann::json;

json to_json(const Server& server) {
    return {{"name", server.name},
            {"address", server.address},
            {"user", server.user},
            {"fingerprint", server.fingerprint},
            {"key_file", server.key_file}};
}

Server server_from_json(const json& from) {
    Server server;
    if (!from.is_object()) return server;
    const auto take = [&](const char* key, std::string& into) {
        if (const auto at = from.find(key); at != from.end() && at->is_string()) into = *at;
    };
    take("name", server.name);
    take("address", server.address);
    take("user", server.user);
    take("fingerprint", server.fingerprint);
    take("key_file", server.key_file);
    return server;
}

namespace {

struct Scheme {
    const char* name;
    ServerKind kind;
    bool secure;
};
constexpr std::array<Scheme, 3> schemes{
    {{"https", ServerKind::WebDav, true}, {"http", ServerKind::WebDav, false}, {"sftp", ServerKind::Sftp, true}}};

std::unexpected<Error> wrong(std::string_view address, const std::string& why) {
    return fail(ErrorKind::Usage, fmt::format("{} is no address to send to: {}.", address, why));
}

int hex_digit(char c) {
    if (c >= '0' && c <= '9') return c - '0';
    if (c >= 'a' && c <= 'f') return c - 'a' + 10;
    if (c >= 'A' && c <= 'F') return c - 'A' + 10;
    return -1;
}

// A percent sign that begins no such code stands for itself.
std::string decoded(std::string_view text) {
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const bool code =
            text[i] == '%' && i + 2 < text.size() && hex_digit(text[i + 1]) >= 0 && hex_digit(text[i + 2]) >= 0;
        if (!code) {
            out += text[i];
            continue;
        }
        out += static_cast<char>(16 * hex_digit(text[i + 1]) + hex_digit(text[i + 2]));
        i += 2;
    }
    return out;
}

// "host", "host:port", "[::1]:port"; a sentence's end where it is none.
std::string take_host(std::string_view authority, ServerAddress& into) {
    if (authority.find('@') != std::string_view::npos)
        return "the user belongs into a field of its own, a password nowhere";
    const size_t bracket = authority.find(']');
    const size_t colon = authority.find(':', bracket == std::string_view::npos ? 0 : bracket);
    into.host = authority.substr(0, colon);
    if (into.host.empty()) return "it names no server";
    const bool odd = std::ranges::any_of(into.host, [](unsigned char c) { return c <= ' ' || c == 0x7f || c == '\\'; });
    if (odd) return "its server's name has a character that no name has";
    if (colon == std::string_view::npos) return {};
    const std::string_view digits = authority.substr(colon + 1);
    const auto [end, failed] = std::from_chars(digits.data(), digits.data() + digits.size(), into.port);
    const bool whole = failed == std::errc() && end == digits.data() + digits.size();
    return whole && into.port > 0 && into.port < 65536 ? std::string() : "its port is no number from 1 to 65535";
}

}

std::string ServerAddress::origin() const {
    return port == 0 ? fmt::format("{}://{}", scheme, host) : fmt::format("{}://{}:{}", scheme, host, port);
}

Result<ServerAddress> address_of(std::string_view address) {
    const size_t scheme_end = address.find("://");
    ServerAddress out;
    out.scheme = address.substr(0, scheme_end == std::string_view::npos ? 0 : scheme_end);
    std::ranges::transform(out.scheme, out.scheme.begin(),
                           [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
    const auto known = std::ranges::find(schemes, std::string_view(out.scheme), &Scheme::name);
    if (known == schemes.end()) return wrong(address, "it begins with none of https://, http:// and sftp://");
    out.kind = known->kind;
    out.secure = known->secure;
    const std::string_view rest = address.substr(scheme_end + 3);
    const size_t slash = std::min(rest.find('/'), rest.size());
    if (rest.find_first_of("?#") != std::string_view::npos)
        return wrong(address, "it has a question mark or #; write those as %3F and %23");
    if (const std::string why = take_host(rest.substr(0, slash), out); !why.empty()) return wrong(address, why);
    for (size_t at = slash; at < rest.size();) {
        const size_t end = std::min(rest.find('/', at + 1), rest.size());
        std::string part = decoded(rest.substr(at + 1, end - at - 1));
        at = end;
        if (part.empty() || part == ".") continue;
        if (part == ".." || part.find('/') != std::string::npos || part.find('\0') != std::string::npos)
            return wrong(address, "its folder leads elsewhere");
        if (part == "~" && out.kind == ServerKind::Sftp && out.folder.empty() && !out.at_home)
            out.at_home = true;
        else
            out.folder.push_back(std::move(part));
    }
    return out;
}

std::string percent_encoded(std::string_view text) {
    std::string out;
    for (const char c : text) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' ||
                           c == '.' || c == '_' || c == '~';
        if (plain)
            out += c;
        else
            fmt::format_to(std::back_inserter(out), "%{:02X}", static_cast<unsigned char>(c));
    }
    return out;
}

std::string encoded_path(const RemotePath& path) {
    std::string out;
    for (const std::string& part : path) {
        out += '/';
        out += percent_encoded(part);
    }
    return out;
}

}
