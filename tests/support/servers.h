// Real servers on the loopback interface, for the duration of a test: lighttpd and Apache with WebDAV, OpenSSH with
// SFTP, and asyncssh's, which asks for a password without being a user of this machine.
#pragma once

#include "core/sending/delivery.h"
#include "support/support.h"

#include <sys/types.h>

namespace yelvin::test {

int free_port();
// A self-signed certificate with its key in one file, for "localhost".
void make_certificate(const std::filesystem::path& pem);

// A server that accepts connections and is silent.
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

// The stand-in that ships with Yelvin, with its options: "--busy", "3" …
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

// All files in a folder and its subfolders, except those that servers keep for themselves; sorted.
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
    // Its files are in a file system of their own with so many bytes; whether this user may do that.
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
