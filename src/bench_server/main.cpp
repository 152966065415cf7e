// yelvin-bench-server: a small WebDAV server on this computer, for the demo and for tests. Its options make it refuse
// requests, break connections, be slow or full, or show another certificate.
#include "bench_server/dav_folder.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <microhttpd.h>

#include <fcntl.h>
#include <netinet/in.h>
#include <signal.h>
#include <sys/stat.h>
#include <unistd.h>

#include <chrono>
#include <cstdlib>
#include <fstream>
#include <map>
#include <memory>
#include <sstream>
#include <thread>

namespace yelvin {
namespace {

namespace fs = std::filesystem;

// How requests are answered. Twice: each is carried out twice and the second answer is sent, as by a proxy that repeats
// unanswered requests. Wrongly: with a page of a network that asks the user to sign in first.
enum class Answers { OnTime, Late, Twice, Never, Wrongly };

struct ServerOptions {
    Answers answers = Answers::OnTime;
    std::string user, password;
    bool digest = false, refuse = false;
    std::int64_t break_after = -1; // bytes of a body; then the connection ends
    std::int64_t slow = 0;         // bytes a second; 0: as fast as it goes
    int busy_seconds = 0;          // Retry-After
};

struct Serving {
    DavFolder folder;
    ServerOptions options;
};

constexpr const char* realm = "papers";
constexpr const char* opaque = "yelvin-bench-server";

// One request, from its headers to its end.
struct Request {
    DavFolder::Asked asked;
    fs::path growing;
    int file = -1;
    std::int64_t taken = 0;
    bool failed = false;
    std::optional<DavReply> refused;
    ~Request() {
        if (file >= 0) ::close(file);
        std::error_code ignored;
        if (!growing.empty()) fs::remove(growing, ignored);
    }
};

std::string header_of(MHD_Connection* connection, const char* name) {
    const char* value = MHD_lookup_connection_value(connection, MHD_HEADER_KIND, name);
    return value ? value : "";
}

// The path of an address, decoded.
std::string path_in(std::string address) {
    if (const size_t scheme = address.find("://"); scheme != std::string::npos) {
        const size_t slash = address.find('/', scheme + 3);
        address = slash == std::string::npos ? "/" : address.substr(slash);
    }
    address.resize(MHD_http_unescape(address.data()));
    return address;
}

MHD_Result send(MHD_Connection* connection, const DavReply& reply) {
    MHD_Response* response = nullptr;
    if (reply.file) { // For HEAD, libmicrohttpd sends the headers only.
        const int file = ::open(reply.file->c_str(), O_RDONLY | O_CLOEXEC);
        struct stat is {};
        if (file < 0 || ::fstat(file, &is) != 0) return MHD_NO;
        response = MHD_create_response_from_fd64(static_cast<std::uint64_t>(is.st_size), file);
    } else {
        response = MHD_create_response_from_buffer(reply.body.size(), const_cast<char*>(reply.body.data()),
                                                   MHD_RESPMEM_MUST_COPY);
    }
    for (const auto& [name, value] : reply.headers) MHD_add_response_header(response, name.c_str(), value.c_str());
    const MHD_Result queued = MHD_queue_response(connection, static_cast<unsigned>(reply.status), response);
    MHD_destroy_response(response);
    return queued;
}

// Returns true if the client may make the request; otherwise the answer was queued.
bool lets_in(MHD_Connection* connection, const ServerOptions& options, MHD_Result& answered) {
    if (options.user.empty()) return true;
    const std::string words = "Sign in first.\n";
    MHD_Response* no =
        MHD_create_response_from_buffer(words.size(), const_cast<char*>(words.data()), MHD_RESPMEM_MUST_COPY);
    bool in = false;
    if (options.digest) {
        const int is = MHD_digest_auth_check2(connection, realm, options.user.c_str(), options.password.c_str(), 300,
                                              MHD_DIGEST_ALG_MD5);
        in = is == MHD_YES;
        if (!in)
            answered = MHD_queue_auth_fail_response2(connection, realm, opaque, no,
                                                     is == MHD_INVALID_NONCE ? MHD_YES : MHD_NO, MHD_DIGEST_ALG_MD5);
    } else {
        char* password = nullptr;
        char* user = MHD_basic_auth_get_username_password(connection, &password);
        in = user && password && options.user == user && options.password == password;
        MHD_free(user);
        MHD_free(password);
        if (!in) answered = MHD_queue_basic_auth_fail_response(connection, realm, no);
    }
    MHD_destroy_response(no);
    return in;
}

// Receives a part of a body. Returns false if the connection is to be closed.
bool take(Request& request, const ServerOptions& options, const char* bytes, size_t size) {
    if (request.refused) return true;
    if (request.file < 0)
        request.file = ::open(request.growing.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    for (size_t at = 0; at < size;) {
        const ssize_t some = ::write(request.file, bytes + at, size - at);
        if (some <= 0) return request.failed = true;
        at += static_cast<size_t>(some);
    }
    request.taken += static_cast<std::int64_t>(size);
    if (options.slow > 0)
        std::this_thread::sleep_for(
            std::chrono::microseconds(1'000'000 * static_cast<std::int64_t>(size) / options.slow));
    return options.break_after < 0 || request.taken < options.break_after;
}

// Returns true if the answer was queued.
bool answers_otherwise(MHD_Connection* connection, const ServerOptions& options, MHD_Result& answered) {
    if (options.answers == Answers::Late) std::this_thread::sleep_for(std::chrono::milliseconds(400));
    while (options.answers == Answers::Never) std::this_thread::sleep_for(std::chrono::hours(1));
    if (options.answers != Answers::Wrongly) return false;
    answered = send(connection, {200,
                                 {{"Content-Type", "text/html"}},
                                 "<!DOCTYPE html><title>Welcome</title><p>Sign in to use this network.</p>\n"});
    return true;
}

MHD_Result begin(MHD_Connection* connection, const Serving& serving, Request& request, const char* url,
                 const char* method) {
    MHD_Result answered = MHD_NO;
    if (answers_otherwise(connection, serving.options, answered)) return answered;
    if (!lets_in(connection, serving.options, answered)) return answered;
    request.asked = {method,
                     url,
                     header_of(connection, "Depth"),
                     path_in(header_of(connection, "Destination")),
                     header_of(connection, "Overwrite"),
                     header_of(connection, "If-None-Match"),
                     header_of(connection, "Want-Repr-Digest")};
    if (serving.options.busy_seconds > 0)
        return send(connection, {503, {{"Retry-After", std::to_string(serving.options.busy_seconds)}}, "Later.\n"});
    if (serving.options.refuse) return send(connection, {403, {}, "No.\n"});
    if (request.asked.method != "PUT") return MHD_YES;
    const std::string length = header_of(connection, "Content-Length");
    if (auto refused = serving.folder.refuses_put(request.asked, length.empty() ? 0 : std::stoull(length)))
        return send(connection, *refused);
    request.growing = serving.folder.growing(request.asked);
    return MHD_YES;
}

MHD_Result handle(void* self, MHD_Connection* connection, const char* url, const char* method, const char*,
                  const char* body, size_t* size, void** state) {
    const auto& serving = *static_cast<const Serving*>(self);
    if (!*state) {
        auto* request = new Request;
        *state = request;
        return begin(connection, serving, *request, url, method);
    }
    auto& request = *static_cast<Request*>(*state);
    const bool puts = request.asked.method == "PUT";
    if (*size > 0) {
        const bool goes_on = !puts || take(request, serving.options, body, *size);
        *size = 0;
        return goes_on ? MHD_YES : MHD_NO;
    }
    if (request.failed) return send(connection, {507});
    const bool twice = serving.options.answers == Answers::Twice;
    if (!puts) {
        if (twice) (void)serving.folder.answer(request.asked);
        return send(connection, serving.folder.answer(request.asked));
    }
    if (request.file < 0)
        request.file = ::open(request.growing.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    DavReply put = serving.folder.put(request.asked, std::exchange(request.growing, {}));
    if (twice)
        if (auto refused = serving.folder.refuses_put(request.asked, 0)) put = std::move(*refused);
    return send(connection, put);
}

void forget(void*, MHD_Connection*, void** state, MHD_RequestTerminationCode) {
    delete static_cast<Request*>(*state);
    *state = nullptr;
}

std::string whole_file(const std::string& name) {
    std::ifstream in(name, std::ios::binary);
    std::ostringstream out;
    out << in.rdbuf();
    return out.str();
}

struct Arguments {
    std::string folder, password_file, tls;
    int port = 0;
    std::uint64_t quota = 0;
    bool cannot_move = false, ignores_conditions = false;
    ServerOptions options;
};

int serve(const Arguments& arguments) {
    fs::create_directories(arguments.folder);
    DavFolder::Behaviour behaviour;
    if (arguments.quota > 0) behaviour.quota = arguments.quota;
    behaviour.moves = !arguments.cannot_move;
    behaviour.minds_conditions = !arguments.ignores_conditions;
    Serving serving{DavFolder(fs::absolute(arguments.folder).lexically_normal(), behaviour), arguments.options};
    if (!arguments.password_file.empty()) {
        std::istringstream first(whole_file(arguments.password_file));
        std::getline(first, serving.options.password);
    }
    const std::string pem = arguments.tls.empty() ? "" : whole_file(arguments.tls);
    std::vector<MHD_OptionItem> options{{MHD_OPTION_NOTIFY_COMPLETED, reinterpret_cast<intptr_t>(&forget), nullptr},
                                        {MHD_OPTION_CONNECTION_TIMEOUT, 60, nullptr},
                                        {MHD_OPTION_DIGEST_AUTH_RANDOM, 8, const_cast<char*>("benchsrv")},
                                        {MHD_OPTION_NONCE_NC_SIZE, 300, nullptr}};
    if (!pem.empty()) {
        options.push_back({MHD_OPTION_HTTPS_MEM_KEY, 0, const_cast<char*>(pem.c_str())});
        options.push_back({MHD_OPTION_HTTPS_MEM_CERT, 0, const_cast<char*>(pem.c_str())});
    }
    options.push_back({MHD_OPTION_END, 0, nullptr});
    unsigned flags = MHD_USE_THREAD_PER_CONNECTION | MHD_USE_INTERNAL_POLLING_THREAD;
    if (!pem.empty()) flags |= MHD_USE_TLS;
    sockaddr_in here{};
    here.sin_family = AF_INET;
    here.sin_port = htons(static_cast<std::uint16_t>(arguments.port));
    here.sin_addr.s_addr = htonl(INADDR_LOOPBACK); // Reachable from this computer only.
    MHD_Daemon* daemon = MHD_start_daemon(flags, 0, nullptr, nullptr, &handle, &serving, MHD_OPTION_SOCK_ADDR, &here,
                                          MHD_OPTION_ARRAY, options.data(), MHD_OPTION_END);
    if (!daemon) {
        fmt::print(stderr, "Port {} is in use, or the certificate is not valid; nothing is served.\n", arguments.port);
        return 1;
    }
    const MHD_DaemonInfo* port = MHD_get_daemon_info(daemon, MHD_DAEMON_INFO_BIND_PORT);
    fmt::print("{}://localhost:{}/\n", pem.empty() ? "http" : "https", port->port);
    std::fflush(stdout);
    sigset_t ends;
    sigemptyset(&ends);
    for (const int each : {SIGINT, SIGTERM}) sigaddset(&ends, each);
    int which = 0;
    sigwait(&ends, &which);
    // MHD_stop_daemon() would wait for the requests that are never answered.
    if (arguments.options.answers == Answers::Never) std::_Exit(0);
    MHD_stop_daemon(daemon);
    return 0;
}

}
}

int main(int argc, char** argv) {
    using namespace yelvin;
    sigset_t ends;
    sigemptyset(&ends);
    for (const int each : {SIGINT, SIGTERM}) sigaddset(&ends, each);
    pthread_sigmask(SIG_BLOCK, &ends, nullptr); // before there are threads
    signal(SIGPIPE, SIG_IGN);
    Arguments arguments;
    CLI::App app{"A WebDAV server on this computer, to try sending with."};
    app.add_option("--folder", arguments.folder, "Folder with the server's files")->required();
    app.add_option("--port", arguments.port, "Port to listen on (default 0: any free port)");
    app.add_option("--user", arguments.options.user, "User name to accept; without one, everybody may sign in");
    app.add_option("--password-file", arguments.password_file, "File whose first line is the password");
    app.add_flag("--digest", arguments.options.digest, "Use digest authentication (RFC 7616)");
    app.add_option("--tls", arguments.tls, "File with a certificate and its key (PEM), to serve HTTPS");
    app.add_option("--quota", arguments.quota, "Bytes after which the disk is full");
    app.add_flag("--refuse", arguments.options.refuse, "Refuse every request");
    app.add_option("--break-after", arguments.options.break_after,
                   "Bytes of a file after which the connection is closed");
    app.add_option("--slow", arguments.options.slow, "Bytes accepted per second");
    app.add_option("--busy", arguments.options.busy_seconds, "Seconds after which to come back, sent as Retry-After");
    app.add_option("--answers", arguments.options.answers, "How to answer: on-time, late, twice, never or wrongly")
        ->transform(CLI::CheckedTransformer(std::map<std::string, Answers>{{"on-time", Answers::OnTime},
                                                                           {"late", Answers::Late},
                                                                           {"twice", Answers::Twice},
                                                                           {"never", Answers::Never},
                                                                           {"wrongly", Answers::Wrongly}}));
    app.add_flag("--cannot-move", arguments.cannot_move, "Do not support moving files");
    app.add_flag("--ignores-conditions", arguments.ignores_conditions,
                 "Ignore conditions, so that existing files are overwritten");
    CLI11_PARSE(app, argc, argv);
    return serve(arguments);
}
