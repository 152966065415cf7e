// The part of Transfer that decides whether a server is the one it claims to be, and how the user signs in.
#include "core/sending/transfer.h"

#include <fmt/format.h>
#include <glib.h>
#include <openssl/ssl.h>
#include <openssl/x509v3.h>

#include <cstdlib>
#include <memory>
#include <string>

namespace yelvin {

namespace {

std::string text_of(X509_NAME* name) {
    const std::unique_ptr<BIO, decltype(&BIO_free)> out(BIO_new(BIO_s_mem()), BIO_free);
    X509_NAME_print_ex(out.get(), name, 0, XN_FLAG_ONELINE & ~ASN1_STRFLGS_ESC_MSB);
    char* bytes = nullptr;
    const long size = BIO_get_mem_data(out.get(), &bytes);
    return {bytes, static_cast<size_t>(size)};
}

std::string text_of(const ASN1_TIME* time) {
    tm when{};
    if (ASN1_TIME_to_tm(time, &when) != 1) return "?";
    return fmt::format("{:04}-{:02}-{:02}", when.tm_year + 1900, when.tm_mon + 1, when.tm_mday);
}

std::string known_hosts_file() {
    const char* home = std::getenv("HOME");
    return std::string(home ? home : "") + "/.ssh/known_hosts";
}

}

std::string base64(const void* bytes, std::size_t size) {
    char* encoded = g_base64_encode(static_cast<const guchar*>(bytes), size);
    std::string out(encoded);
    g_free(encoded);
    return out;
}

std::string fingerprint_of(const void* bytes, std::size_t size) {
    unsigned char digest[32];
    unsigned length = sizeof digest;
    EVP_Digest(bytes, size, digest, &length, EVP_sha256(), nullptr);
    std::string text = base64(digest, sizeof digest);
    while (text.ends_with('=')) text.pop_back();
    return "SHA256:" + text;
}

int Transfer::host_key(CURL*, const curl_khkey*, const curl_khkey* found, curl_khmatch match, void* self) {
    auto& transfer = *static_cast<Transfer*>(self);
    const std::string print = found->len > 0 ? fingerprint_of(found->key, found->len) : [&] {
        gsize size = 0;
        guchar* raw = g_base64_decode(found->key, &size); // libssh2 passes it as known_hosts stores it
        std::string out = fingerprint_of(raw, size);
        g_free(raw);
        return out;
    }();
    const std::string& accepted = transfer.server_.fingerprint;
    if (!accepted.empty() ? print == accepted : match == CURLKHMATCH_OK) return CURLKHSTAT_FINE;
    transfer.identity_ = {print, !accepted.empty()               ? "The host key has changed since you accepted it."
                                 : match == CURLKHMATCH_MISMATCH ? "The host key differs from the one in known_hosts."
                                                                 : "Its host key is not in known_hosts."};
    return CURLKHSTAT_REJECT;
}

int Transfer::certificate(void* store, void* self) {
    auto* context = static_cast<X509_STORE_CTX*>(store);
    auto& transfer = *static_cast<Transfer*>(self);
    X509* leaf = X509_STORE_CTX_get0_cert(context);
    unsigned char* der = nullptr;
    const int size = leaf ? i2d_X509(leaf, &der) : 0;
    const std::string print = size > 0 ? fingerprint_of(der, static_cast<size_t>(size)) : std::string();
    OPENSSL_free(der);
    const std::string& accepted = transfer.server_.fingerprint;
    std::string why;
    if (!accepted.empty()) {
        if (print == accepted) return 1;
        why = "The certificate has changed since you accepted it.";
    } else {
        if (X509_verify_cert(context) == 1) return 1; // libcurl checks the host's name afterwards
        why = fmt::format("No trusted authority signed it: {}.",
                          X509_verify_cert_error_string(X509_STORE_CTX_get_error(context)));
    }
    transfer.identity_ = {print, why};
    if (leaf)
        transfer.identity_.words = fmt::format("{} It names {} and is valid until {}.", why,
                                               text_of(X509_get_subject_name(leaf)), text_of(X509_get0_notAfter(leaf)));
    if (X509_STORE_CTX_get_error(context) == X509_V_OK)
        X509_STORE_CTX_set_error(context, X509_V_ERR_APPLICATION_VERIFICATION);
    return 0;
}

CURLcode Transfer::tls_context(CURL*, void* context, void* self) {
    SSL_CTX_set_cert_verify_callback(
        static_cast<SSL_CTX*>(context),
        [](X509_STORE_CTX* store, void* transfer) { return certificate(store, transfer); }, self);
    return CURLE_OK;
}

void Transfer::set_trust(CURL* curl) {
    const auto set = [&](auto option, auto value) { curl_easy_setopt(curl, option, value); };
    if (address_.kind == ServerKind::Sftp) {
        set(CURLOPT_SSH_KNOWNHOSTS, known_hosts_file().c_str());
        set(CURLOPT_SSH_KEYFUNCTION, &Transfer::host_key);
        set(CURLOPT_SSH_KEYDATA, this);
        return;
    }
    set(CURLOPT_SSL_VERIFYPEER, 1L);
    set(CURLOPT_SSL_VERIFYHOST, server_.fingerprint.empty() ? 2L : 0L); // an accepted certificate may have any name
    set(CURLOPT_SSL_CTX_FUNCTION, &Transfer::tls_context);
    set(CURLOPT_SSL_CTX_DATA, this);
    if (!sign_in_.authorities.empty()) set(CURLOPT_CAINFO, sign_in_.authorities.c_str());
}

long Transfer::allowed_auth() const {
    return address_.secure || server_.plain_password ? auth_ : auth_ & ~static_cast<long>(CURLAUTH_BASIC);
}

void Transfer::set_sign_in(CURL* curl) {
    const auto set = [&](auto option, auto value) { curl_easy_setopt(curl, option, value); };
    if (!server_.user.empty()) set(CURLOPT_USERNAME, server_.user.c_str());
    if (!sign_in_.password.empty()) set(CURLOPT_PASSWORD, sign_in_.password.c_str());
    if (address_.kind == ServerKind::WebDav) {
        set(CURLOPT_HTTPAUTH, allowed_auth());
        set(CURLOPT_UNRESTRICTED_AUTH, 0L);
        return;
    }
    long ways = CURLSSH_AUTH_PUBLICKEY | CURLSSH_AUTH_AGENT;
    if (!sign_in_.password.empty()) ways |= CURLSSH_AUTH_PASSWORD | CURLSSH_AUTH_KEYBOARD;
    if (!server_.key_file.empty()) {
        set(CURLOPT_SSH_PRIVATE_KEYFILE, server_.key_file.c_str());
        if (!sign_in_.password.empty()) set(CURLOPT_KEYPASSWD, sign_in_.password.c_str());
    }
    set(CURLOPT_SSH_AUTH_TYPES, ways);
}

}
