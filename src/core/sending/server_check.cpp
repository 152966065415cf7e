#include "core/sending/server_check.h"

#include <fmt/format.h>
#include <glib.h>

#include <netdb.h>
#include <unistd.h>

#include <fstream>

namespace fs = std::filesystem;

namespace yelvin {

const char* step_name(ServerStep::What what) {
    constexpr const char* words[] = {"name", "connection", "certificate", "sign-in", "folder", "writing", "room"};
    return words[static_cast<size_t>(what)];
}

namespace {

using What = ServerStep::What;

// The step to which an error of the first request belongs.
What step_of(ErrorKind kind) {
    switch (kind) {
    case ErrorKind::Offline:
    case ErrorKind::Busy:
        return What::Connection;
    case ErrorKind::Untrusted:
        return What::Certificate;
    case ErrorKind::Encrypted:
    case ErrorKind::AccessDenied:
        return What::SignIn;
    default:
        return What::Folder;
    }
}

// A name lookup on a thread of glibc's, so that a stop does not wait for a silent name server.
struct NameQuestion {
    std::string name;
    gaicb request{};
    explicit NameQuestion(std::string of) : name(std::move(of)) { request.ar_name = name.c_str(); }
    NameQuestion(const NameQuestion&) = delete;
    NameQuestion& operator=(const NameQuestion&) = delete;
    ~NameQuestion() {
        if (request.ar_result) ::freeaddrinfo(request.ar_result);
    }
};

Result<void> name_is_known(const std::string& host, const std::stop_token& stop) {
    const bool bracketed = host.starts_with('[') && host.ends_with(']');
    auto question = std::make_unique<NameQuestion>(bracketed ? host.substr(1, host.size() - 2) : host);
    gaicb* list[] = {&question->request};
    int code = ::getaddrinfo_a(GAI_NOWAIT, list, 1, nullptr);
    while (code == 0 && (code = ::gai_error(list[0])) == EAI_INPROGRESS) {
        code = 0;
        constexpr timespec tenth_of_a_second{0, 100'000'000};
        (void)::gai_suspend(list, 1, &tenth_of_a_second);
        if (!stop.stop_requested()) continue;
        if (::gai_cancel(list[0]) == EAI_NOTCANCELED) (void)question.release(); // glibc uses it until it has an answer
        return stopped();
    }
    if (code == 0) return {};
    return fail(ErrorKind::Offline, fmt::format("The server {} was not found; check its name and the network.", host),
                ::gai_strerror(code));
}

// Tries whether files may be written, by uploading and deleting a small one.
Result<void> may_write(Remote& remote, const RemotePath& folder) {
    std::string pattern = (fs::temp_directory_path() / "yelvin-test-XXXXXX").string();
    const int descriptor = ::mkstemp(pattern.data());
    if (descriptor < 0)
        return fail(ErrorKind::NotWritable, "A test file cannot be created on this computer; check for disk space.");
    const fs::path file = pattern;
    const std::string words = "Yelvin tests whether it can save files here.\n";
    const bool written = ::write(descriptor, words.data(), words.size()) == static_cast<ssize_t>(words.size());
    ::close(descriptor);
    RemotePath there = folder;
    there.push_back(fmt::format(".yelvin-{:08x}.part", g_random_int()));
    Result<void> put =
        written ? remote.put(file, there, {})
                : Result<void>(fail(ErrorKind::NotWritable,
                                    "A test file cannot be created on this computer; check for disk space."));
    if (put) put = remote.remove(there);
    std::error_code ignored;
    fs::remove(file, ignored);
    return put;
}

std::string room_words(std::uint64_t bytes) {
    constexpr double gigabyte = 1e9, megabyte = 1e6;
    const auto all = static_cast<double>(bytes);
    return all >= gigabyte ? fmt::format("{:.1f} GB are free.", all / gigabyte)
                           : fmt::format("{:.0f} MB are free.", all / megabyte);
}

// Returns the folder or, if it does not exist yet, the nearest existing one above it.
Result<RemotePath> nearest(Remote& remote, RemotePath folder) {
    for (;;) {
        const auto there = remote.entry_at(folder);
        if (!there) return std::unexpected(there.error());
        if (*there && !(*there)->is_folder)
            return fail(ErrorKind::BadInput,
                        fmt::format("{} is a file, not a folder; check the address.", remote.url(folder)));
        if (*there) return folder;
        if (folder.empty())
            return fail(ErrorKind::Missing,
                        fmt::format("The folder {} does not exist; check the address.", remote.url(folder)));
        folder.pop_back();
    }
}

}

void test_server(const Server& server, const SignIn& sign_in, const RemotePath& folder, const std::stop_token& stop,
                 const std::function<void(const ServerStep&)>& tell) {
    const auto address = address_of(server.address);
    if (!address) return tell({What::Name, false, address.error().sentence});
    if (auto known = name_is_known(address->host, stop); !known)
        return tell({What::Name, false, known.error().sentence});
    tell({What::Name, true, fmt::format("{} was found.", address->host)});
    auto remote = connect_to(server, sign_in, stop);
    if (!remote) return tell({What::Connection, false, remote.error().sentence});
    const auto first = (*remote)->entry_at({});
    const What failed = first ? What::Folder : step_of(first.error().kind);
    const auto passed = [&](What what, const std::string& words, bool warns = false) {
        if (first || failed > what) tell({what, true, words, warns});
    };
    passed(What::Connection, fmt::format("{} responds.", address->origin()));
    if (address->secure)
        passed(What::Certificate, server.fingerprint.empty()
                                      ? std::string(address->kind == ServerKind::Sftp ? "Its host key is known."
                                                                                      : "Its certificate is valid.")
                                      : std::string("It matches the one you accepted."));
    else
        passed(What::Certificate, "Not encrypted: others on the network can read the files.", true);
    passed(What::SignIn,
           server.user.empty() ? std::string("No sign-in is needed.") : fmt::format("Signed in as {}.", server.user));
    if (!first) return tell({failed, false, first.error().sentence, false, (*remote)->identity()});
    const auto at = nearest(**remote, folder);
    if (!at) return tell({What::Folder, false, at.error().sentence});
    tell({What::Folder, true,
          *at == folder ? std::string("The folder exists.")
                        : std::string("The folder is created when files are sent.")});
    if (auto may = may_write(**remote, *at); !may) return tell({What::Writing, false, may.error().sentence});
    tell({What::Writing, true, "Files can be saved there."});
    const auto room = (*remote)->free_bytes(*at);
    if (room && *room) tell({What::Room, **room > 0, room_words(**room)});
}

}
