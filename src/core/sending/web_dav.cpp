#include "core/sending/web_dav.h"

#include <fmt/format.h>
#include <glib.h>
#include <pugixml.hpp>

#include <algorithm>
#include <charconv>
#include <cstring>
#include <utility>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// The name of an element without its prefix: servers give the namespace "DAV:" different ones.
std::string_view local_name(const pugi::xml_node& node) {
    const std::string_view name = node.name();
    const size_t colon = name.find(':');
    return colon == std::string_view::npos ? name : name.substr(colon + 1);
}

pugi::xml_node first_within(const pugi::xml_node& node, std::string_view name) {
    return node.find_node([&](const pugi::xml_node& each) { return local_name(each) == name; });
}

std::optional<std::uint64_t> number_in(const pugi::xml_node& node) {
    const std::string_view text = node.text().get();
    std::uint64_t value = 0;
    const auto begin = text.find_first_not_of(" \t\r\n");
    if (begin == std::string_view::npos) return std::nullopt;
    const auto [end, failed] = std::from_chars(text.data() + begin, text.data() + text.size(), value);
    return failed == std::errc() && end != text.data() + begin ? std::optional(value) : std::nullopt;
}

// Returns the properties that were found, from the first response of a multistatus (RFC 4918, 13).
pugi::xml_node found_properties(const pugi::xml_document& answer) {
    const pugi::xml_node response = first_within(answer, "response");
    for (const pugi::xml_node& each : response.children()) {
        if (local_name(each) != "propstat") continue;
        const std::string_view status = first_within(each, "status").text().get();
        if (status.empty() || status.find(" 200") != std::string_view::npos) return first_within(each, "prop");
    }
    return {};
}

// Whether a redirect keeps scheme, host and port. From http to https of the same host is allowed.
bool stays_there(const std::string& from, const std::string& to) {
    const auto a = address_of(from.substr(0, from.find_first_of("?#"))),
               b = address_of(to.substr(0, to.find_first_of("?#")));
    if (!a || !b || a->host != b->host) return false;
    const auto port = [](const ServerAddress& each) { return each.port != 0 ? each.port : each.secure ? 443 : 80; };
    const bool same = a->scheme == b->scheme && port(*a) == port(*b);
    return same || (!a->secure && b->secure && a->port == 0 && b->port == 0);
}

std::string origin_in(const std::string& url) {
    const auto address = address_of(url.substr(0, url.find_first_of("?#")));
    return address ? address->origin() : std::string();
}

constexpr const char* what_it_is = "<resourcetype/><getcontentlength/>";

bool is_redirect(long status) { return status == 301 || status == 302 || status == 307 || status == 308; }

}

WebDav::WebDav(const Server& server, const ServerAddress& address, const SignIn& sign_in, const std::stop_token& stop)
    : transfer_(server, address, sign_in, stop), origin_(address.origin()) {}

std::string WebDav::url_of(const RemotePath& path, bool as_folder) const {
    const std::string at = encoded_path(transfer_.address().folder) + encoded_path(path);
    return origin_ + at + (as_folder || at.empty() ? "/" : "");
}

Error WebDav::refusal(const Transfer::Answer& answer) const {
    const std::string origin = origin_, user = transfer_.server().user;
    const auto error = [&](ErrorKind kind, const std::string& sentence) {
        return Error{kind, sentence, fmt::format("status {}", answer.status)};
    };
    switch (answer.status) {
    case 401:
        if (answer.wants_plain_password && !user.empty())
            return error(ErrorKind::Untrusted,
                         fmt::format("{} accepts the password only unencrypted, where others on the network can read "
                                     "it; nothing was sent. Use an https:// address, or allow it for this server.",
                                     origin));
        return user.empty() ? error(ErrorKind::Encrypted,
                                    fmt::format("{} requires a sign-in; enter a user name and a password.", origin))
                            : error(ErrorKind::Encrypted,
                                    fmt::format("{} refused to sign in {}; check the user name and the password.",
                                                origin, user));
    case 403:
        return error(ErrorKind::AccessDenied, fmt::format("{} denied access{}; ask its administrator.", origin,
                                                          user.empty() ? "" : " to " + user));
    case 404:
    case 409:
        return error(ErrorKind::Missing, fmt::format("The folder does not exist on {}; check the address.", origin));
    case 405:
    case 501:
        return error(ErrorKind::Unsupported,
                     fmt::format("{} does not accept files in this way; check the address.", origin));
    case 413:
        return error(
            ErrorKind::BadInput,
            fmt::format("{} does not accept a file as large as this one; make it smaller, or ask its administrator.",
                        origin));
    case 423:
        return error(ErrorKind::Busy, fmt::format("The folder is locked on {}; try again later.", origin));
    case 429:
    case 503:
        return error(ErrorKind::Busy, fmt::format("{} is too busy; try again later.", origin));
    case 507:
        return error(ErrorKind::DiskFull,
                     fmt::format("There is no space left on {}; free some, or ask its administrator.", origin));
    default:
        break;
    }
    if (is_redirect(answer.status))
        return error(
            ErrorKind::BadInput,
            fmt::format("{} redirects to {}, another server; nothing was sent. If that is right, use its address.",
                        origin, answer.redirect.empty() ? "nowhere" : answer.redirect));
    if (answer.status >= 500)
        return error(ErrorKind::Offline,
                     fmt::format("{} has an internal error ({}); try again later.", origin, answer.status));
    return error(ErrorKind::BadInput,
                 fmt::format("{} gave an unexpected answer ({}); check the address.", origin, answer.status));
}

Result<Transfer::Answer> WebDav::ask(Transfer::Request request, std::initializer_list<long> fine) {
    constexpr int most_redirects = 5;
    for (int i = 0;; ++i) {
        Transfer::Answer answer = run(request);
        identity_ = transfer_.identity();
        retry_after_ = answer.retry_after;
        // A server that is full or refuses the file answers before it has received everything, and closes.
        const bool answered =
            answer.code == CURLE_OK ||
            (answer.status >= 400 && (answer.code == CURLE_SEND_ERROR || answer.code == CURLE_RECV_ERROR));
        broke_off_ = !answered && (answer.code == CURLE_SEND_ERROR || answer.code == CURLE_RECV_ERROR ||
                                   answer.code == CURLE_GOT_NOTHING);
        if (!answered) return std::unexpected(transfer_.failure(answer));
        if (std::ranges::find(fine, answer.status) != fine.end()) return answer;
        if (is_redirect(answer.status) && i == most_redirects)
            return fail(ErrorKind::BadInput,
                        fmt::format("{} redirects endlessly; nothing was sent. Check the address.", origin_));
        if (!is_redirect(answer.status) || !stays_there(request.url, answer.redirect))
            return std::unexpected(refusal(answer));
        request.url = answer.redirect;
        origin_ = origin_in(answer.redirect);
    }
}

// Sends the prefetch_entry() request on a second connection while a file is being uploaded.
Transfer::Answer WebDav::run(const Transfer::Request& request) {
    if (!request.upload || !ahead_ || ahead_->answered) return transfer_.run(request);
    Transfer::Answer answer_ahead;
    const Transfer::Request beside = asking(ahead_->path, what_it_is);
    Transfer::Answer answer = transfer_.run(request, &beside, &answer_ahead);
    take_answer_ahead(std::move(answer_ahead));
    return answer;
}

Transfer::Request WebDav::asking(const RemotePath& path, const std::string& wanted) const {
    Transfer::Request request{url_of(path, path.empty()),
                              "PROPFIND",
                              {"Depth: 0", "Content-Type: application/xml; charset=utf-8", "Expect:"}};
    request.body = fmt::format(
        "<?xml version=\"1.0\" encoding=\"utf-8\"?><propfind xmlns=\"DAV:\"><prop>{}</prop></propfind>", wanted);
    return request;
}

Result<std::optional<std::string>> WebDav::properties(const RemotePath& path, const std::string& wanted) {
    auto answer = ask(asking(path, wanted), {207, 200, 404, 410});
    if (!answer) return std::unexpected(answer.error());
    if (answer->status == 404 || answer->status == 410) return std::nullopt;
    return std::move(answer->body);
}

bool WebDav::knows_sign_in() const {
    return transfer_.server().user.empty() || transfer_.auth() != static_cast<long>(CURLAUTH_ANY);
}

// Asks at once if the way of signing in is not known yet, because nothing large should be sent before it is.
void WebDav::prefetch_entry(const RemotePath& path) {
    ahead_ = Ahead{path};
    if (knows_sign_in()) return;
    auto answer = properties(path, what_it_is);
    if (answer) ahead_->answer = std::move(*answer);
    ahead_->answered = answer.has_value();
}

void WebDav::take_answer_ahead(Transfer::Answer answer) {
    ahead_->answered = answer.code == CURLE_OK && (answer.status == 207 || answer.status == 404);
    if (answer.status == 207) ahead_->answer = std::move(answer.body);
}

Result<std::optional<Remote::Entry>> WebDav::entry_at(const RemotePath& path) {
    const auto ahead = std::exchange(ahead_, {});
    if (ahead && ahead->answered && ahead->path == path) return entry_in(ahead->answer);
    const auto answer = properties(path, what_it_is); // An error of the second connection says nothing about this one.
    if (!answer) return std::unexpected(answer.error());
    return entry_in(*answer);
}

Result<std::optional<Remote::Entry>> WebDav::entry_in(const std::optional<std::string>& answer) const {
    if (!answer) return std::nullopt;
    pugi::xml_document xml;
    const auto read = xml.load_buffer(answer->data(), answer->size());
    const pugi::xml_node properties = found_properties(xml);
    if (!read || !properties)
        return fail(ErrorKind::Unsupported,
                    fmt::format("{} is not a WebDAV server, or not at this address; check the address.", origin_));
    return Entry{!!first_within(first_within(properties, "resourcetype"), "collection"),
                 number_in(first_within(properties, "getcontentlength")).value_or(0)};
}

Result<std::optional<std::uint64_t>> WebDav::free_bytes(const RemotePath& folder) {
    const auto answer = properties(folder, "<quota-available-bytes/>"); // RFC 4331
    if (!answer) return std::unexpected(answer.error());
    pugi::xml_document xml;
    if (!*answer || !xml.load_buffer((*answer)->data(), (*answer)->size())) return std::nullopt;
    return number_in(first_within(found_properties(xml), "quota-available-bytes"));
}

Result<void> WebDav::make_one_folder(const RemotePath& path) {
    // 405: another client created it meanwhile.
    const auto made = ask({url_of(path, true), "MKCOL"}, {201, 200, 405});
    return made ? Result<void>() : std::unexpected(made.error());
}

// Once the way of signing in is known, "Expect: 100-continue" is not used, which saves a round trip: a server that
// refuses the file says so during the upload. Some servers close the connection so early that their answer is lost;
// these are asked first in a second attempt.
Result<Remote::CreateResult> WebDav::put_with(const fs::path& file, const RemotePath& to, const Progress& progress,
                                              bool only_new) {
    for (bool asks_first = !knows_sign_in();; asks_first = true) {
        Transfer::Request request{url_of(to, false), {}, {"Content-Type: application/octet-stream"}};
        if (only_new) request.headers.emplace_back("If-None-Match: *");
        if (!asks_first) request.headers.emplace_back("Expect:");
        request.upload = &file;
        request.progress = progress;
        const auto answer = ask(std::move(request), {200, 201, 204, 412});
        if (answer) return answer->status == 412 ? CreateResult::NameTaken : CreateResult::Created;
        if (asks_first || !broke_off_) return std::unexpected(answer.error());
    }
}

Result<void> WebDav::put(const fs::path& file, const RemotePath& to, const Progress& progress) {
    const auto done = put_with(file, to, progress, false);
    return done ? Result<void>() : std::unexpected(done.error());
}

Result<Remote::CreateResult> WebDav::put_new(const fs::path& file, const RemotePath& to, const Progress& progress) {
    return put_with(file, to, progress, true);
}

Result<Remote::CreateResult> WebDav::move(const RemotePath& from, const RemotePath& to) {
    const auto answer = ask({url_of(from, false), "MOVE", {"Destination: " + url_of(to, false), "Overwrite: F"}},
                            {201, 204, 412, 405, 501});
    if (!answer) return std::unexpected(answer.error());
    if (answer->status == 412) return CreateResult::NameTaken;
    return answer->status == 405 || answer->status == 501 ? CreateResult::Unsupported : CreateResult::Created;
}

Result<void> WebDav::remove(const RemotePath& path) {
    const auto gone = ask({url_of(path, false), "DELETE"}, {200, 204, 404, 410});
    return gone ? Result<void>() : std::unexpected(gone.error());
}

Result<std::string> WebDav::download_hash(const RemotePath& path, std::uint64_t most) {
    PrefixHash sum(most);
    Transfer::Request request{url_of(path, false)};
    request.on_data = [&](const char* bytes, std::size_t size) { return sum.take(bytes, size); };
    const auto answer = ask(std::move(request), {200});
    if (!answer) return std::unexpected(answer.error());
    return sum.hash();
}

namespace {

// Parses "sha-256=:base64:" (RFC 9530).
std::optional<std::string> hash_in(const std::string& digest) {
    constexpr std::string_view ours = "sha-256=:";
    const size_t begin = digest.find(ours), end = digest.find(':', begin + ours.size());
    if (begin == std::string::npos || end == std::string::npos) return std::nullopt;
    gsize size = 0;
    guchar* bytes = g_base64_decode(digest.substr(begin + ours.size(), end - begin - ours.size()).c_str(), &size);
    std::string hash;
    for (gsize i = 0; i < size; ++i) fmt::format_to(std::back_inserter(hash), "{:02x}", bytes[i]);
    g_free(bytes);
    return hash;
}

}

Result<Remote::Metadata> WebDav::metadata_of(const RemotePath& path) {
    Transfer::Request request{url_of(path, false), {}, {"Want-Repr-Digest: sha-256=9"}};
    request.no_body = true;
    const auto answer = ask(std::move(request), {200, 204, 404, 405, 501});
    if (!answer) return std::unexpected(answer.error());
    Metadata told;
    if (answer->status != 200) return told;
    if (answer->headers.contains("content-length") && answer->length >= 0)
        told.bytes = static_cast<std::uint64_t>(answer->length);
    if (const auto digest = answer->headers.find("repr-digest"); digest != answer->headers.end())
        told.hash = hash_in(digest->second);
    return told;
}

}
