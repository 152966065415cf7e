// What can be done at a server, whichever way it is spoken to. Each call blocks, and takes up again what a redirect or
// a sign-in asks for. Errors: Offline, no answer or a fault over there: try again later; Busy, it asks to be left alone
// for a while (see retry_after()); Untrusted, its certificate or host key is not one that was accepted; AccessDenied;
// Encrypted, a password is wanted or another one; DiskFull, there; Missing; BadInput; Stopped.
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

    struct Entry {
        bool is_folder = false;
        std::uint64_t bytes = 0;
        bool operator==(const Entry&) const = default;
    };
    virtual Result<std::optional<Entry>> look(const RemotePath& path) = 0; // nothing: it is not there
    // Begins to look beside what else goes on; the next look() at that place takes the answer.
    virtual void look_ahead(const RemotePath&) {}
    virtual Result<void> make_folder(const RemotePath& path);  // with those above; one that is there stays
    using Progress = std::function<void(std::uint64_t bytes)>; // so many are over there
    // In place of what bears the name: for names that are nobody else's.
    virtual Result<void> put(const std::filesystem::path& file, const RemotePath& to, const Progress& progress) = 0;
    enum class Named { Yes, Taken, Cannot }; // Cannot: the server does not know how
    // Never over what bears the name.
    virtual Result<Named> move(const RemotePath& from, const RemotePath& to) = 0;
    virtual Result<Named> put_new(const std::filesystem::path& file, const RemotePath& to,
                                  const Progress& progress) = 0;
    virtual Result<void> remove(const RemotePath& path) = 0; // a file; one that is not there is fine
    // Reads it back: SHA-256 in hexadecimal digits, of its first `most` bytes.
    virtual Result<std::string> read_back(const RemotePath& path, std::uint64_t most) = 0;
    // What the server tells of a file by itself, with one question: its size, and SHA-256 likewise; nothing: it does
    // not.
    struct Told {
        std::optional<std::uint64_t> bytes;
        std::optional<std::string> hash;
    };
    virtual Result<Told> told_of(const RemotePath& path) = 0;
    virtual Result<std::optional<std::uint64_t>> free_bytes(const RemotePath& folder) = 0; // nothing: not told
    virtual std::string url(const RemotePath& path) const = 0;

    // After an error: how long the server asks to be left alone.
    std::optional<std::chrono::seconds> retry_after() const { return retry_after_; }
    // After an Untrusted: what the server showed, to be looked at and accepted.
    struct Shown {
        std::string fingerprint;           // "SHA256:" and the rest, as it goes into Server::fingerprint
        std::string words;                 // whose it says it is, until when; why it was not trusted
        bool wants_plain_password = false; // it takes the password by Basic sign-in only, over a connection in the open
    };
    const Shown& shown() const { return shown_; }

  protected:
    // In a folder that is there; fine where somebody else made it meanwhile.
    virtual Result<void> make_one_folder(const RemotePath& path) = 0;
    std::optional<std::chrono::seconds> retry_after_;
    Shown shown_;
};

struct SignIn {
    Secret password;
    std::string authorities; // a file of certificates besides the system's; may be empty
};
// Errors: as address_of().
Result<std::unique_ptr<Remote>> connect_to(const Server& server, const SignIn& sign_in, const std::stop_token& stop);

// SHA-256 of the first `most` bytes that come, in hexadecimal digits.
class HashOfBeginning {
  public:
    explicit HashOfBeginning(std::uint64_t most);
    ~HashOfBeginning();
    HashOfBeginning(const HashOfBeginning&) = delete;
    HashOfBeginning& operator=(const HashOfBeginning&) = delete;
    bool take(const char* bytes, std::size_t size); // false: more came than it wants
    std::string hash();

  private:
    std::uint64_t left_;
    struct Sum; // GLib's
    std::unique_ptr<Sum> sum_;
};

// SHA-256 of the file's first `most` bytes, in hexadecimal digits. Errors: Missing.
Result<std::string> hash_of_file(const std::filesystem::path& file, std::uint64_t most = UINT64_MAX);

}
