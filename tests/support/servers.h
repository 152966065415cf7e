// Real servers on the loopback, for as long as a test takes: lighttpd and Apache with WebDAV, OpenSSH with SFTP.
#pragma once

#include "core/sending/delivery.h"
#include "support/support.h"

#include <sys/types.h>

namespace yelvin::test {

int free_port();
// A self-signed certificate with its key in one file, for "localhost".
void make_certificate(const std::filesystem::path& pem);

class RealServer {
  public:
    enum class Which { Lighttpd, Apache, OpenSsh };
    enum class Auth { None, Basic, Digest };
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

    std::filesystem::path files() const { return base_ / "files"; } // what it serves
    Server server() const;                                          // as a person names it; user "heron"
    SignIn sign_in() const;      // password "Kingfisher 7", the certificate's authority
    std::string problem() const; // what it says itself

  private:
    How how_;
    TempFolder base_;
    int port_;
    pid_t process_ = -1;
    std::vector<std::string> command() const;
    void configure();
};

}
