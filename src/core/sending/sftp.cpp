#include "core/sending/sftp.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>

namespace fs = std::filesystem;

namespace yelvin {

Sftp::Sftp(const Server& server, const ServerAddress& address, const SignIn& sign_in, const std::stop_token& stop)
    : transfer_(server, address, sign_in, stop) {}

std::string Sftp::url(const RemotePath& path) const {
    const ServerAddress& address = transfer_.address();
    return address.origin() + (address.at_home ? "/~" : "") + encoded_path(address.folder) + encoded_path(path);
}

std::string Sftp::path_of(const RemotePath& path) const {
    const ServerAddress& address = transfer_.address();
    std::string quoted = "\"", out(address.at_home ? "." : "");
    for (const RemotePath* parts : {&address.folder, &path})
        for (const std::string& part : *parts) out.append("/").append(part);
    for (const char c : out.empty() ? std::string("/") : out) {
        if (c == '"' || c == '\\') quoted += '\\';
        quoted += c;
    }
    return quoted + '"';
}

Result<Transfer::Answer> Sftp::ask(const Transfer::Request& request, std::initializer_list<CURLcode> fine) {
    Transfer::Answer answer = transfer_.run(request);
    identity_ = transfer_.identity();
    if (answer.code == CURLE_OK || std::ranges::find(fine, answer.code) != fine.end()) return answer;
    return std::unexpected(transfer_.failure(answer));
}

Result<bool> Sftp::command(const std::string& words) {
    Transfer::Request request{transfer_.address().origin() + "/", {}, {}};
    request.commands = {words};
    request.no_body = true;
    const auto answer = ask(request, {CURLE_QUOTE_ERROR});
    if (!answer) return std::unexpected(answer.error());
    return answer->code == CURLE_OK;
}

Result<std::optional<Remote::Entry>> Sftp::entry_at(const RemotePath& path) {
    Transfer::Request folder{url(path) + "/", {}, {}};
    folder.names_only = true;
    folder.on_data = [](const char*, std::size_t) { return true; };
    // OpenSSH refuses to open a file or a missing path as a folder.
    const auto listed =
        ask(folder, {CURLE_REMOTE_FILE_NOT_FOUND, CURLE_REMOTE_ACCESS_DENIED, CURLE_QUOTE_ERROR, CURLE_SSH});
    if (!listed) return std::unexpected(listed.error());
    if (listed->code == CURLE_OK) return Entry{true, 0};
    Transfer::Request file{url(path), {}, {}};
    file.no_body = true;
    const auto answer = ask(file, {CURLE_REMOTE_FILE_NOT_FOUND});
    if (!answer) return std::unexpected(answer.error());
    if (answer->code != CURLE_OK) return std::nullopt;
    return Entry{false, static_cast<std::uint64_t>(std::max<std::int64_t>(0, answer->length))};
}

Result<void> Sftp::make_one_folder(const RemotePath& path) {
    const auto made = command("mkdir " + path_of(path));
    if (!made) return std::unexpected(made.error());
    if (*made) return {};
    const auto meanwhile = entry_at(path); // another client may have created it
    if (meanwhile && *meanwhile && (*meanwhile)->is_folder) return {};
    return fail(ErrorKind::AccessDenied, fmt::format("The folder {} cannot be created on the server.", url(path)));
}

Result<void> Sftp::put(const fs::path& file, const RemotePath& to, const Progress& progress) {
    Transfer::Request request{url(to), {}, {}};
    request.upload = &file;
    request.progress = progress;
    const auto answer = ask(request, {CURLE_SSH, CURLE_REMOTE_FILE_NOT_FOUND});
    if (!answer) return std::unexpected(answer.error());
    if (answer->code == CURLE_OK) return {};
    const auto folder = entry_at({to.begin(), to.end() - 1});
    if (!folder) return std::unexpected(folder.error()); // The connection was lost.
    if (!*folder || !(*folder)->is_folder)
        return fail(ErrorKind::Missing,
                    fmt::format("The folder {} does not exist on the server.", url({to.begin(), to.end() - 1})));
    // The protocol has no status for a full disk; nothing else makes a server refuse in the middle of a file.
    return fail(ErrorKind::DiskFull,
                fmt::format("{} stopped accepting the file; its disk may be full.", transfer_.address().origin()),
                answer->said);
}

// The protocol's rename fails if the name is taken.
Result<Remote::CreateResult> Sftp::move(const RemotePath& from, const RemotePath& to) {
    const auto taken = entry_at(to);
    if (!taken) return std::unexpected(taken.error());
    if (*taken) return CreateResult::NameTaken;
    const auto moved = command(fmt::format("rename {} {}", path_of(from), path_of(to)));
    if (!moved) return std::unexpected(moved.error());
    if (*moved) return CreateResult::Created;
    const auto now = entry_at(to);
    if (now && *now) return CreateResult::NameTaken;
    return fail(ErrorKind::AccessDenied, fmt::format("The file cannot be renamed to {} on the server.", url(to)));
}

Result<void> Sftp::remove(const RemotePath& path) {
    const auto gone = command("*rm " + path_of(path));
    return gone ? Result<void>() : std::unexpected(gone.error());
}

Result<std::string> Sftp::download_hash(const RemotePath& path, std::uint64_t most) {
    PrefixHash sum(most);
    Transfer::Request request{url(path), {}, {}};
    request.on_data = [&](const char* bytes, std::size_t size) { return sum.take(bytes, size); };
    const auto answer = ask(request, {});
    if (!answer) return std::unexpected(answer.error());
    return sum.hash();
}

Result<std::optional<std::uint64_t>> Sftp::free_bytes(const RemotePath& folder) {
    Transfer::Request request{transfer_.address().origin() + "/", {}, {}};
    request.commands = {"statvfs " + path_of(folder)}; // an extension of OpenSSH; libcurl returns its answer as headers
    request.no_body = true;
    const auto answer = ask(request, {CURLE_QUOTE_ERROR});
    if (!answer) return std::unexpected(answer.error());
    const auto number = [&](const char* name) -> std::uint64_t {
        const auto at = answer->headers.find(name);
        return at == answer->headers.end() ? 0 : std::strtoull(at->second.c_str(), nullptr, 10);
    };
    const std::uint64_t block = number("f_frsize"), blocks = number("f_bavail");
    return block > 0 ? std::optional(block * blocks) : std::nullopt;
}

}
