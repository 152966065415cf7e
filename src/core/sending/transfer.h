// Runs single requests over HTTP or SFTP by libcurl, with what all of them have in common: time limits, stopping, trust
// in certificates and host keys, and failures as sentences for people. Used by WebDav and Sftp only.
#pragma once

#include "core/sending/remote.h"

#include <curl/curl.h>

#include <cstdio>
#include <map>
#include <string>
#include <vector>

namespace yelvin {

// Returns "SHA256:" and the hash in base64 without padding, as OpenSSH writes it.
std::string fingerprint_of(const void* bytes, std::size_t size);
std::string base64(const void* bytes, std::size_t size);

// Keeps its connections open between requests. Used by one thread at a time.
class Transfer {
  public:
    Transfer(Server server, ServerAddress address, SignIn sign_in, std::stop_token stop);
    ~Transfer();
    Transfer(const Transfer&) = delete;
    Transfer& operator=(const Transfer&) = delete;

    struct Request {
        std::string url;
        std::string method;                            // of HTTP; empty: GET, or PUT if there is a body or a file
        std::vector<std::string> headers;              // of HTTP
        std::string body;                              // sent if it is not empty
        const std::filesystem::path* upload = nullptr; // a file to upload; must outlive the request
        // Receives the answer's contents in pieces. Returning false ends the transfer without an error. If it is empty,
        // the contents are stored in Answer::body, up to 16 MB.
        std::function<bool(const char*, std::size_t)> on_data = {};
        std::vector<std::string> commands = {}; // of SFTP
        bool no_body = false;                   // ask for the headers only
        bool names_only = false;                // SFTP: list the names in a folder
        Remote::Progress progress = {};
    };
    struct Answer {
        CURLcode code = CURLE_OK;
        long status = 0;
        std::string body;
        std::string said;                           // libcurl's message about a failure, for the log
        std::map<std::string, std::string> headers; // of the last answer; names in small letters
        std::string redirect;
        std::int64_t length = -1; // of the contents; -1: not known
        std::optional<std::chrono::seconds> retry_after;
        bool wants_plain_password = false; // HTTP: the server offers Basic only, which Server does not allow
    };
    // Blocks until the request is done, fails or is stopped; Answer::code says which. `beside` runs at the same time on
    // a connection of its own and is abandoned as soon as the first request is done.
    Answer run(const Request& request, const Request* beside = nullptr, Answer* besides_answer = nullptr);

    const Server& server() const { return server_; }
    const ServerAddress& address() const { return address_; }
    const Remote::Identity& identity() const { return identity_; }
    // Turns an answer whose code is not CURLE_OK into an error with a sentence. See remote.h for the kinds.
    Error failure(const Answer& answer) const;
    long auth() const { return auth_; }

  private:
    Server server_;
    ServerAddress address_;
    SignIn sign_in_;
    std::stop_token stop_;
    CURL *curl_, *beside_ = nullptr;
    CURLM* connections_; // keeps connections open between requests
    long auth_ = CURLAUTH_ANY;
    long allowed_auth() const; // those of auth_ that may be used with this server
    Remote::Identity identity_;

    struct Exchange; // a request under way and its answer
    void set_up(Exchange& exchange);
    void set_trust(CURL* curl);
    void set_sign_in(CURL* curl);
    void perform(Exchange& exchange, Exchange* beside);
    static void finish(Exchange& exchange);
    static int host_key(CURL*, const curl_khkey* known, const curl_khkey* found, curl_khmatch match, void* self);
    static CURLcode tls_context(CURL*, void* context, void* self);
    static int certificate(void* store, void* self); // OpenSSL's X509_STORE_CTX
};

}
