// The operations that delivering a file needs of a server, whether it speaks WebDAV or SFTP.
//
// Every call blocks until it is done, fails or is stopped; sign-in and redirects are handled inside. A Remote is used
// by one thread at a time.
//
// Errors of every call:
//   Offline       no answer, or a fault of the server: try again later
//   Busy          the server asks to be left alone for a while, see retry_after()
//   Untrusted     the certificate or host key is not trusted, or the password would be sent unencrypted; see identity()
//   Encrypted     a user name or password is missing or wrong
//   AccessDenied  the server forbids the operation
//   DiskFull      the server has no more room
//   Missing       the folder, or the local file, does not exist
//   BadInput, Unsupported   the address is wrong, or the server cannot do this
//   Stopped       the stop token was requested
#pragma once

#include "core/secret.h"
#include "core/sending/server.h"

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>

namespace yelvin {

class Remote {
  public:
    virtual ~Remote() = default;

    // A file or folder on the server.
    struct Entry {
        bool is_folder = false;
        std::uint64_t bytes = 0; // 0 for a folder
        bool operator==(const Entry&) const = default;
    };
    // Returns nullopt if nothing exists at `path`.
    virtual Result<std::optional<Entry>> entry_at(const RemotePath& path) = 0;
    // Asks for the entry at `path` in advance, if possible while the next upload is under way. The next entry_at() of
    // the same path uses that answer. Errors are not reported; entry_at() then asks again.
    virtual void prefetch_entry(const RemotePath&) {}

    // Creates the folder and the missing ones above it. An existing folder is no error. Errors: BadInput if a file has
    // the name of one of them.
    virtual Result<void> make_folder(const RemotePath& path);

    // Called on the calling thread with the number of bytes sent so far.
    using Progress = std::function<void(std::uint64_t bytes)>;
    // Uploads `file` to `to`, replacing any existing file. Use only for names that this delivery generated itself.
    virtual Result<void> put(const std::filesystem::path& file, const RemotePath& to, const Progress& progress) = 0;

    enum class CreateResult {
        Created,
        NameTaken,   // something has this name; nothing was changed
        Unsupported, // the server does not know the operation; nothing was changed
    };
    // Renames a file. Never replaces an existing one.
    virtual Result<CreateResult> move(const RemotePath& from, const RemotePath& to) = 0;
    // Uploads `file` under a new name. Never replaces an existing file, but may leave a partial one if the connection
    // breaks.
    virtual Result<CreateResult> put_new(const std::filesystem::path& file, const RemotePath& to,
                                         const Progress& progress) = 0;

    // Deletes a file. A missing file is no error.
    virtual Result<void> remove(const RemotePath& path) = 0;

    // Downloads the first `most` bytes of a file and returns their SHA-256 in hexadecimal digits.
    virtual Result<std::string> download_hash(const RemotePath& path, std::uint64_t most) = 0;

    // What the server reports about a file without sending it. A member without a value was not reported.
    struct Metadata {
        std::optional<std::uint64_t> bytes;
        std::optional<std::string> hash; // SHA-256 in hexadecimal digits
    };
    virtual Result<Metadata> metadata_of(const RemotePath& path) = 0;

    // Returns nullopt if the server does not report it.
    virtual Result<std::optional<std::uint64_t>> free_bytes(const RemotePath& folder) = 0;

    // The address of `path`, for people. Contains no password.
    virtual std::string url(const RemotePath& path) const = 0;

    // After an error: how long the server asks to be left alone, if it says so.
    std::optional<std::chrono::seconds> retry_after() const { return retry_after_; }

    // The certificate or host key that the server presented, or the way of signing in that it demands.
    struct Identity {
        std::string fingerprint;           // "SHA256:…", as Server::fingerprint stores it
        std::string words;                 // whom it names, until when it is valid, why it is not trusted
        bool wants_plain_password = false; // it accepts the password by Basic sign-in over plain http only
    };
    // After an Untrusted error: what the user may decide to accept. Valid until the next call.
    const Identity& identity() const { return identity_; }

  protected:
    // Creates one folder inside an existing one. No error if another client created it meanwhile.
    virtual Result<void> make_one_folder(const RemotePath& path) = 0;
    std::optional<std::chrono::seconds> retry_after_;
    Identity identity_;
};

// What is needed to sign in besides the user name in Server.
struct SignIn {
    Secret password;
    std::string authorities; // path of a file of certificates that count besides the system's; may be empty
};

// Returns a Remote for the server. Does not connect yet. `stop` ends whatever call is under way. Errors: those of
// address_of().
Result<std::unique_ptr<Remote>> connect_to(const Server& server, const SignIn& sign_in, const std::stop_token& stop);

// Computes the SHA-256 of the first `most` bytes of a stream.
class PrefixHash {
  public:
    explicit PrefixHash(std::uint64_t most);
    ~PrefixHash();
    PrefixHash(const PrefixHash&) = delete;
    PrefixHash& operator=(const PrefixHash&) = delete;
    // Adds bytes. Returns false once more bytes came than are wanted; the rest is ignored.
    bool take(const char* bytes, std::size_t size);
    std::string hash(); // in hexadecimal digits; call it once, after the last take()

  private:
    std::uint64_t left_;
    struct Sum; // GLib's checksum
    std::unique_ptr<Sum> sum_;
};

// Returns the SHA-256 of the first `most` bytes of a local file, in hexadecimal digits. Errors: Missing if the file
// cannot be read.
Result<std::string> hash_of_file(const std::filesystem::path& file, std::uint64_t most = UINT64_MAX);

}
