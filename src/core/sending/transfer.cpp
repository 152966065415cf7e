#include "core/sending/transfer.h"

#include <algorithm>
#include <chrono>
#include <cstring>
#include <sstream>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr long connect_seconds = 15, silent_seconds = 40;

void begin_curl() {
    static const CURLcode once = curl_global_init(CURL_GLOBAL_DEFAULT);
    (void)once;
}

}

// A request under way. libcurl calls the static functions with `self` pointing to it.
struct Transfer::Exchange {
    CURL* curl;
    const Request& request;
    Answer answer;
    std::stop_token stop;
    FILE* file = nullptr;
    curl_slist *headers = nullptr, *commands = nullptr;
    std::size_t body_sent = 0;
    char said[CURL_ERROR_SIZE] = {};

    Exchange(CURL* handle, const Request& what, std::stop_token stop_token)
        : curl(handle), request(what), stop(std::move(stop_token)) {}
    Exchange(const Exchange&) = delete;
    Exchange& operator=(const Exchange&) = delete;
    ~Exchange() {
        if (file) std::fclose(file);
        curl_slist_free_all(headers);
        curl_slist_free_all(commands);
    }

    static size_t write(char* bytes, size_t one, size_t count, void* self) {
        auto& exchange = *static_cast<Exchange*>(self);
        constexpr size_t stop = 0; // ends the exchange with CURLE_WRITE_ERROR
        if (exchange.request.on_data) {
            exchange.moved_at = std::chrono::steady_clock::now();
            if (!exchange.request.on_data(bytes, one * count)) exchange.has_enough = true;
            return exchange.has_enough ? stop : one * count;
        }
        if (exchange.answer.body.size() + one * count > most_kept) return stop;
        exchange.answer.body.append(bytes, one * count);
        return one * count;
    }
    static size_t header(char* bytes, size_t one, size_t count, void* self) {
        auto& exchange = *static_cast<Exchange*>(self);
        std::istringstream lines(std::string(bytes, one * count)); // SFTP delivers several lines at once.
        for (std::string line; std::getline(lines, line);) exchange.take_header(line);
        return one * count;
    }
    void take_header(std::string line) {
        while (!line.empty() && line.back() == '\r') line.pop_back();
        // Headers of an earlier answer, such as a redirect, do not count.
        if (line.starts_with("HTTP/")) answer.headers.clear();
        const size_t colon = line.find(':');
        if (colon == std::string::npos) return;
        std::string name = line.substr(0, colon);
        std::ranges::transform(name, name.begin(),
                               [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
        const size_t value = line.find_first_not_of(" \t", colon + 1);
        answer.headers[name] = value == std::string::npos ? "" : line.substr(value);
    }
    static size_t read(char* into, size_t one, size_t count, void* self) {
        auto& exchange = *static_cast<Exchange*>(self);
        if (exchange.file) return std::fread(into, one, count, exchange.file);
        const size_t some = std::min(one * count, exchange.request.body.size() - exchange.body_sent);
        std::memcpy(into, exchange.request.body.data() + exchange.body_sent, some);
        exchange.body_sent += some;
        return some;
    }
    static int seek(void* self, curl_off_t offset, int origin) {
        auto& exchange = *static_cast<Exchange*>(self);
        if (exchange.file)
            return std::fseek(exchange.file, static_cast<long>(offset), origin) == 0 ? CURL_SEEKFUNC_OK
                                                                                     : CURL_SEEKFUNC_FAIL;
        if (origin != SEEK_SET) return CURL_SEEKFUNC_CANTSEEK;
        exchange.body_sent = static_cast<size_t>(offset);
        return CURL_SEEKFUNC_OK;
    }
    static int progress(void* self, curl_off_t, curl_off_t, curl_off_t, curl_off_t sent) {
        auto& exchange = *static_cast<Exchange*>(self);
        if (exchange.request.progress && exchange.file) exchange.request.progress(static_cast<std::uint64_t>(sent));
        const auto now = std::chrono::steady_clock::now();
        // Only bytes that are sent or wanted count as progress: an answer without an end could come for ever.
        if (sent != exchange.sent) exchange.sent = sent, exchange.moved_at = now;
        if (!exchange.request.on_data && now - exchange.moved_at > most_waited) exchange.waited_too_long = true;
        return exchange.stop.stop_requested() || exchange.waited_too_long ? 1 : 0;
    }
    static constexpr size_t most_kept = 16 << 20; // Bytes of an answer that are kept.
    static constexpr std::chrono::seconds most_waited{120};
    bool has_enough = false, waited_too_long = false;
    curl_off_t sent = 0;
    std::chrono::steady_clock::time_point moved_at = std::chrono::steady_clock::now();
};

Transfer::Transfer(Server server, ServerAddress address, SignIn sign_in, std::stop_token stop)
    : server_(std::move(server)), address_(std::move(address)), sign_in_(std::move(sign_in)), stop_(std::move(stop)) {
    begin_curl();
    curl_ = curl_easy_init();
    connections_ = curl_multi_init();
}

Transfer::~Transfer() {
    curl_easy_cleanup(curl_);
    if (beside_) curl_easy_cleanup(beside_);
    curl_multi_cleanup(connections_);
}

void Transfer::set_up(Exchange& exchange) {
    const Request& request = exchange.request;
    const auto set = [&](auto option, auto value) { curl_easy_setopt(exchange.curl, option, value); };
    // Undo the options of the last request one by one: curl_easy_reset() would also forget the digest's nonce.
    set(CURLOPT_HTTPGET, 1L);
    set(CURLOPT_DIRLISTONLY, 0L);
    set(CURLOPT_CUSTOMREQUEST, static_cast<char*>(nullptr));
    set(CURLOPT_HTTPHEADER, static_cast<curl_slist*>(nullptr));
    set(CURLOPT_QUOTE, static_cast<curl_slist*>(nullptr));
    set(CURLOPT_INFILESIZE_LARGE, static_cast<curl_off_t>(-1));
    set(CURLOPT_URL, request.url.c_str());
    set(CURLOPT_PROTOCOLS_STR, address_.kind == ServerKind::Sftp ? "sftp" : "http,https");
    set(CURLOPT_HTTP_VERSION, static_cast<long>(CURL_HTTP_VERSION_1_1)); // every WebDAV server speaks it
    set(CURLOPT_NOSIGNAL, 1L);
    set(CURLOPT_QUICK_EXIT, 1L); // a name server that does not answer must not delay the end
    set(CURLOPT_CONNECTTIMEOUT, connect_seconds);
    set(CURLOPT_LOW_SPEED_LIMIT, 1L);
    set(CURLOPT_LOW_SPEED_TIME, silent_seconds);
    set(CURLOPT_TCP_KEEPALIVE, 1L);
    set(CURLOPT_BUFFERSIZE, 256L * 1024);
    set(CURLOPT_UPLOAD_BUFFERSIZE, 256L * 1024);
    set(CURLOPT_ERRORBUFFER, exchange.said);
    set(CURLOPT_NOPROGRESS, 0L);
    set(CURLOPT_XFERINFOFUNCTION, &Exchange::progress);
    set(CURLOPT_XFERINFODATA, &exchange);
    set(CURLOPT_WRITEFUNCTION, &Exchange::write);
    set(CURLOPT_WRITEDATA, &exchange);
    set(CURLOPT_HEADERFUNCTION, &Exchange::header);
    set(CURLOPT_HEADERDATA, &exchange);
    set(CURLOPT_FOLLOWLOCATION, 0L); // WebDav follows redirects itself, within the host
    set(CURLOPT_NETRC, static_cast<long>(CURL_NETRC_IGNORED));
    set_trust(exchange.curl);
    set_sign_in(exchange.curl);
    for (const std::string& each : request.headers)
        exchange.headers = curl_slist_append(exchange.headers, each.c_str());
    if (exchange.headers) set(CURLOPT_HTTPHEADER, exchange.headers);
    for (const std::string& each : request.commands)
        exchange.commands = curl_slist_append(exchange.commands, each.c_str());
    if (exchange.commands) set(CURLOPT_QUOTE, exchange.commands);
    if (request.no_body) set(CURLOPT_NOBODY, 1L);
    if (request.names_only) set(CURLOPT_DIRLISTONLY, 1L);
    if (request.upload || !request.body.empty()) {
        std::error_code none;
        const auto size = request.upload ? fs::file_size(*request.upload, none) : request.body.size();
        set(CURLOPT_UPLOAD, 1L);
        set(CURLOPT_READFUNCTION, &Exchange::read);
        set(CURLOPT_READDATA, &exchange);
        set(CURLOPT_SEEKFUNCTION, &Exchange::seek);
        set(CURLOPT_SEEKDATA, &exchange);
        set(CURLOPT_INFILESIZE_LARGE, static_cast<curl_off_t>(size));
    }
    if (!request.method.empty()) set(CURLOPT_CUSTOMREQUEST, request.method.c_str());
}

void Transfer::finish(Exchange& exchange) {
    CURL* curl = exchange.curl;
    Answer& answer = exchange.answer;
    answer.said = exchange.said;
    curl_easy_getinfo(curl, CURLINFO_RESPONSE_CODE, &answer.status);
    if (const char* to = nullptr; curl_easy_getinfo(curl, CURLINFO_REDIRECT_URL, &to) == CURLE_OK && to)
        answer.redirect = to;
    curl_off_t length = -1, wait = 0;
    curl_easy_getinfo(curl, CURLINFO_CONTENT_LENGTH_DOWNLOAD_T, &length);
    answer.length = length;
    curl_easy_getinfo(curl, CURLINFO_RETRY_AFTER, &wait);
    if (wait > 0) answer.retry_after = std::chrono::seconds(wait);
    for (const CURLoption secret : {CURLOPT_PASSWORD, CURLOPT_KEYPASSWD}) // keep secrets no longer than needed
        curl_easy_setopt(curl, secret, nullptr);
    if (exchange.has_enough && answer.code == CURLE_WRITE_ERROR) answer.code = CURLE_OK;
    if (exchange.waited_too_long && answer.code == CURLE_ABORTED_BY_CALLBACK) answer.code = CURLE_OPERATION_TIMEDOUT;
}

// Runs until `exchange` is done; `beside` is abandoned then.
void Transfer::perform(Exchange& exchange, Exchange* beside) {
    exchange.answer.code = CURLE_FAILED_INIT;
    if (beside) beside->answer.code = CURLE_ABORTED_BY_CALLBACK;
    curl_multi_add_handle(connections_, exchange.curl);
    if (beside) curl_multi_add_handle(connections_, beside->curl);
    const std::stop_callback wake_up(stop_, [this] { curl_multi_wakeup(connections_); });
    for (bool through = false; !through;) {
        int running = 0, left = 0;
        if (curl_multi_perform(connections_, &running) != CURLM_OK) break;
        while (const CURLMsg* told = curl_multi_info_read(connections_, &left)) {
            if (told->msg != CURLMSG_DONE) continue;
            through = through || told->easy_handle == exchange.curl;
            (told->easy_handle == exchange.curl ? exchange : *beside).answer.code = told->data.result;
        }
        if (!through) curl_multi_poll(connections_, nullptr, 0, 1000, nullptr);
    }
    if (beside) curl_multi_remove_handle(connections_, beside->curl);
    curl_multi_remove_handle(connections_, exchange.curl);
}

Transfer::Answer Transfer::run(const Request& request, const Request* beside, Answer* besides_answer) {
    Exchange exchange(curl_, request, stop_);
    if (request.upload) {
        exchange.file = std::fopen(request.upload->c_str(), "rb");
        if (!exchange.file) {
            exchange.answer.code = CURLE_READ_ERROR;
            return std::move(exchange.answer);
        }
    }
    identity_ = {};
    set_up(exchange);
    std::optional<Exchange> other;
    if (beside) {
        if (!beside_) beside_ = curl_easy_init();
        set_up(other.emplace(beside_, *beside, stop_));
    }
    perform(exchange, other ? &*other : nullptr);
    finish(exchange);
    if (other) finish(*other), *besides_answer = std::move(other->answer);
    if (address_.kind == ServerKind::WebDav) {
        long offered = 0;
        curl_easy_getinfo(curl_, CURLINFO_HTTPAUTH_AVAIL, &offered);
        // Remember the way of signing in, so that later requests are not sent twice.
        if (auth_ == static_cast<long>(CURLAUTH_ANY) && (offered & CURLAUTH_DIGEST))
            auth_ = CURLAUTH_DIGEST;
        else if (auth_ == static_cast<long>(CURLAUTH_ANY) && (offered & CURLAUTH_BASIC))
            auth_ = CURLAUTH_BASIC;
        const bool is_basic = (offered & CURLAUTH_BASIC) && !(offered & CURLAUTH_DIGEST);
        exchange.answer.wants_plain_password =
            exchange.answer.status == 401 && is_basic && !address_.secure && !server_.plain_password;
        identity_.wants_plain_password = exchange.answer.wants_plain_password && !server_.user.empty();
    }
    return std::move(exchange.answer);
}

}
