// Real servers on the loopback, for as long as a test takes: lighttpd and Apache with WebDAV, OpenSSH with SFTP, and
// asyncssh's, which asks for a password without having users of this machine.
#pragma once

#include "core/sending/delivery.h"
#include "support/support.h"

#include <sys/types.h>

namespace yelvin::test {

int free_port();
// A self-signed certificate with its key in one file, for "localhost".
void make_certificate(const std::filesystem::path& pem);

// Takes connections and never says a word.
class SilentServer {
  public:
    SilentServer();
    ~SilentServer();
    SilentServer(const SilentServer&) = delete;
    SilentServer& operator=(const SilentServer&) = delete;
    int port() const { return port_; }
    void wait_for_somebody(); // blocks

  private:
    int socket_, port_;
    std::vector<int> taken_;
};

// The stand-in that ships, with what it is told to do: "--busy", "3" …
class StandInServer {
  public:
    explicit StandInServer(std::vector<std::string> manners = {});
    ~StandInServer() { stop(); }
    StandInServer(const StandInServer&) = delete;
    StandInServer& operator=(const StandInServer&) = delete;
    void start(std::vector<std::string> manners); // at the same address, with other manners
    void stop();
    std::filesystem::path files() const { return base_ / "files"; }
    Server server() const;  // user "heron"
    SignIn sign_in() const; // where it asks who is there
    std::filesystem::path password_file() const { return base_ / "password"; }
    std::filesystem::path certificate() const { return base_ / "server.pem"; } // with its key; also its own authority

  private:
    TempFolder base_;
    int port_;
    bool tls_ = false;
    pid_t process_ = -1;
};

// All that lies in a folder and those within it, but for what servers keep there for themselves; sorted.
std::vector<std::string> files_within(const std::filesystem::path& folder);

class RealServer {
  public:
    enum class Which { Lighttpd, Apache, OpenSsh, AsyncSsh };
    enum class Auth { None, Basic, Digest, Password, Key, LockedKey, Agent }; // the last four: of SFTP
    struct How {
        Which which = Which::Lighttpd;
        bool tls = false;
        Auth auth = Auth::None;
    };
    explicit RealServer(const How& how);
    ~RealServer();
    void start(); // returns as soon as it answers
    void stop();  // at once, whatever it is doing
    void change_certificate();
    // Its files in a file system of its own, of so many bytes; whether this user may do that.
    bool has_only(std::uint64_t bytes);
    bool is_sftp() const { return how_.which == Which::OpenSsh || how_.which == Which::AsyncSsh; }

    std::filesystem::path files() const { return base_ / "files"; } // what it serves
    Server server() const;       // as the user names it; user "heron", but of OpenSSH
    SignIn sign_in() const;      // password "Kingfisher 7", of a locked key too; the certificate's authority
    std::string problem() const; // what it says itself

  private:
    How how_;
    TempFolder base_;
    int port_;
    pid_t process_ = -1, agent_ = -1;
    bool mounted_ = false;
    std::vector<std::string> command() const;
    void configure();
    void make_keys();
    void begin_agent();
};

}
