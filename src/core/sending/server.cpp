#include "core/sending/server.h"

#include <curl/curl.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <memory>
#include <optional>

namespace yelvin {

using nlohmann::json;

json to_json(const Server& server) {
    return {{"name", server.name},         {"address", server.address},
            {"user", server.user},         {"fingerprint", server.fingerprint},
            {"key_file", server.key_file}, {"plain_password", server.plain_password}};
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
    if (const auto at = from.find("plain_password"); at != from.end() && at->is_boolean()) server.plain_password = *at;
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
    return fail(ErrorKind::Usage, fmt::format("{} is not the address of a server: {}.", shown_address(address), why));
}

struct FreeUrl {
    void operator()(CURLU* url) const { curl_url_cleanup(url); }
};
using Url = std::unique_ptr<CURLU, FreeUrl>;

std::string part_of(CURLU* url, CURLUPart part) {
    char* text = nullptr;
    if (curl_url_get(url, part, &text, 0) != CURLUE_OK) return {};
    std::string out(text);
    curl_free(text);
    return out;
}

// Returns nullopt for a part that would lead out of the folder: "..", or one with an encoded slash or zero byte.
std::optional<std::string> decoded_name(std::string_view part) {
    // With a length of 0, libcurl would call strlen() and read past the end of the part.
    if (part.empty()) return std::string();
    int length = 0;
    char* text = curl_easy_unescape(nullptr, part.data(), static_cast<int>(part.size()), &length);
    std::string name(text ? text : "", text ? static_cast<size_t>(length) : 0);
    curl_free(text);
    if (name == ".." || name.find('/') != std::string::npos || name.find('\0') != std::string::npos)
        return std::nullopt;
    return name;
}

// Says why libcurl rejects the address.
std::string reason(CURLUcode code) {
    switch (code) {
    case CURLUE_BAD_PORT_NUMBER:
        return "the port is not a number from 1 to 65535";
    case CURLUE_NO_HOST:
        return "the name of the server is missing";
    case CURLUE_USER_NOT_ALLOWED:
        return "enter the user name in its own field, and no password";
    default:
        return "the name of the server has an invalid character";
    }
}

}

std::string shown_address(std::string_view address) {
    const size_t at = address.rfind('@');
    if (at == std::string_view::npos) return std::string(address);
    const size_t scheme = address.find("://");
    const std::string_view begin = address.substr(0, scheme == std::string_view::npos || scheme > at ? 0 : scheme + 3);
    return fmt::format("{}…@{}", begin, address.substr(at + 1));
}

std::string ServerAddress::origin() const {
    return port == 0 ? fmt::format("{}://{}", scheme, host) : fmt::format("{}://{}:{}", scheme, host, port);
}

Result<ServerAddress> address_of(std::string_view address) {
    ServerAddress out;
    out.scheme = address.substr(0, std::min(address.find("://"), address.size()));
    std::ranges::transform(out.scheme, out.scheme.begin(),
                           [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
    const auto known = std::ranges::find(schemes, std::string_view(out.scheme), &Scheme::name);
    if (known == schemes.end()) return wrong(address, "it must begin with https://, http:// or sftp://");
    out.kind = known->kind;
    out.secure = known->secure;
    if (address.find_first_of("?#") != std::string_view::npos)
        return wrong(address, "write a question mark as %3F and # as %23");
    const std::string_view after = address.substr(out.scheme.size() + 3);
    if (after.empty() || after.front() == '/') return wrong(address, reason(CURLUE_NO_HOST)); // libcurl would accept it
    const Url url(curl_url());
    constexpr unsigned flags = CURLU_DISALLOW_USER | CURLU_PATH_AS_IS | CURLU_ALLOW_SPACE;
    if (const CURLUcode code = curl_url_set(url.get(), CURLUPART_URL, std::string(address).c_str(), flags);
        code != CURLUE_OK)
        return wrong(address, reason(code));
    out.host = part_of(url.get(), CURLUPART_HOST);
    if (out.host.find_first_of(" \\") != std::string::npos) return wrong(address, reason(CURLUE_BAD_HOSTNAME));
    if (const std::string port = part_of(url.get(), CURLUPART_PORT); !port.empty()) {
        out.port = std::atoi(port.c_str()); // NOLINT(cert-err34-c): libcurl has checked the digits
        if (out.port < 1) return wrong(address, reason(CURLUE_BAD_PORT_NUMBER));
    }
    const std::string path = part_of(url.get(), CURLUPART_PATH);
    for (size_t at = 0; at < path.size();) {
        const size_t end = std::min(path.find('/', at + 1), path.size());
        auto part = decoded_name(std::string_view(path).substr(at + 1, end - at - 1));
        at = end;
        if (!part) return wrong(address, "its folder must not contain “..”");
        if (part->empty() || *part == ".") continue;
        if (*part == "~" && out.kind == ServerKind::Sftp && out.folder.empty() && !out.at_home)
            out.at_home = true;
        else
            out.folder.push_back(std::move(*part));
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
