// One exchange over the network by libcurl, with what all of ours have in common: limits of time, a stop, the trust in
// certificates and host keys, and what went wrong as a sentence.
#pragma once

#include "core/sending/remote.h"

#include <curl/curl.h>

#include <cstdio>
#include <map>
#include <string>
#include <vector>

namespace yelvin {

// The hash, "SHA256:" with the rest in base64 as OpenSSH writes it.
std::string fingerprint_of(const void* bytes, std::size_t size);
std::string base64(const void* bytes, std::size_t size);

class Transfer {
  public:
    Transfer(Server server, ServerAddress address, SignIn sign_in, std::stop_token stop);
    ~Transfer();
    Transfer(const Transfer&) = delete;
    Transfer& operator=(const Transfer&) = delete;

    struct Request {
        std::string url;
        std::string method;               // of HTTP; empty: as the rest says
        std::vector<std::string> headers; // of HTTP
        std::string body;                 // sent along, if not empty
        const std::filesystem::path* upload = nullptr;
        // What comes back; false: that is enough, and the rest is not waited for. Empty: it goes into the answer.
        std::function<bool(const char*, std::size_t)> take = {};
        std::vector<std::string> commands = {}; // of SFTP
        bool only_look = false;                 // no contents wanted
        bool only_names = false;                // of a folder, by SFTP
        Remote::Progress progress = {};
    };
    struct Answer {
        CURLcode code = CURLE_OK;
        long status = 0;
        std::string body, said;                     // what libcurl says of a failure
        std::map<std::string, std::string> headers; // names in small letters; of the last answer
        std::string redirect;
        std::int64_t length = -1;
        std::optional<std::chrono::seconds> retry_after;
        bool wants_plain_password = false; // of HTTP: Basic is all it offers, and may not be used (Server)
    };
    // `beside` goes at the same time by a connection of its own, as far as it gets until the first is through.
    Answer run(const Request& request, const Request* beside = nullptr, Answer* besides_answer = nullptr);

    const Server& server() const { return server_; }
    const ServerAddress& address() const { return address_; }
    const Remote::Shown& shown() const { return shown_; }
    // Whatever keeps an exchange from taking place, as a sentence.
    Error failure(const Answer& answer) const;
    long auth() const { return auth_; }
    void set_auth(long methods) { auth_ = methods; } // of HTTP

  private:
    Server server_;
    ServerAddress address_;
    SignIn sign_in_;
    std::stop_token stop_;
    CURL *curl_, *beside_ = nullptr;
    CURLM* connections_; // those that are open stay so
    long auth_ = CURLAUTH_ANY;
    long allowed_auth() const; // of auth_, what may be used with this server
    Remote::Shown shown_;

    struct Under; // one exchange
    void set_up(Under& under);
    void set_trust(CURL* curl);
    void set_sign_in(CURL* curl);
    void perform(Under& under, Under* beside);
    static void finish(Under& under);
    static int host_key(CURL*, const curl_khkey* known, const curl_khkey* found, curl_khmatch match, void* self);
    static CURLcode tls_context(CURL*, void* context, void* self);
    static int certificate(void* store, void* self); // OpenSSL's X509_STORE_CTX
};

}
