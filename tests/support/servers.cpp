#include "support/servers.h"

#include <arpa/inet.h>
#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/mount.h>
#include <sys/prctl.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <sstream>

namespace fs = std::filesystem;

namespace yelvin::test {

namespace {

constexpr const char* password = "Kingfisher 7";

sockaddr_in loopback(int port) {
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_port = htons(static_cast<std::uint16_t>(port));
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    return address;
}

bool answers(int port) {
    const int socket = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    const sockaddr_in address = loopback(port);
    const bool does = ::connect(socket, reinterpret_cast<const sockaddr*>(&address), sizeof address) == 0;
    ::close(socket);
    return does;
}

// Some of them are in their own sessions.
void kill_with_children(pid_t process) {
    std::istringstream children(read_file(fmt::format("/proc/{0}/task/{0}/children", process)));
    ::kill(process, SIGKILL);
    for (pid_t each = 0; children >> each;) kill_with_children(each);
}

pid_t begin(std::vector<std::string> words, const fs::path& said) {
    std::vector<char*> arguments;
    for (std::string& each : words) arguments.push_back(each.data());
    arguments.push_back(nullptr);
    const pid_t process = ::fork();
    if (process != 0) return process;
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);
    const int out = ::open(said.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0644);
    ::dup2(out, 1);
    ::dup2(out, 2);
    ::execv(arguments[0], arguments.data());
    ::_exit(127);
}

std::string lighttpd_words(const RealServer::How& how, const fs::path& base, int port) {
    std::string out = fmt::format(R"(server.modules = ("mod_auth", "mod_authn_file", "mod_webdav"{0})
server.document-root = "{1}/files"
server.bind = "127.0.0.1"
server.port = {2}
server.errorlog = "{1}/log"
server.upload-dirs = ("{1}")
webdav.activate = "enable"
webdav.is-readonly = "disable"
)",
                                  how.tls ? R"(, "mod_openssl")" : "", base.string(), port);
    if (how.tls) out += fmt::format("ssl.engine = \"enable\"\nssl.pemfile = \"{}/server.pem\"\n", base.string());
    if (how.auth != RealServer::Auth::None)
        out += fmt::format(R"(auth.backend = "plain"
auth.backend.plain.userfile = "{}/users"
auth.require = ("/" => ("method" => "{}", "realm" => "papers", "require" => "valid-user"))
)",
                           base.string(), how.auth == RealServer::Auth::Basic ? "basic" : "digest");
    return out;
}

std::string apache_words(const RealServer::How& how, const fs::path& base, int port) {
    std::string out = fmt::format("ServerRoot \"{0}\"\nListen 127.0.0.1:{1}\nServerName localhost\nPidFile "
                                  "{0}/pid\nErrorLog {0}/log\nMutex posixsem\n",
                                  base.string(), port);
    for (const char* module : {"mpm_event", "authn_core", "authz_core", "authn_file", "authz_user", "auth_basic",
                               "auth_digest", "dav", "dav_fs", "socache_shmcb", "ssl"})
        out += fmt::format("LoadModule {0}_module /usr/lib/apache2/modules/mod_{0}.so\n", module);
    if (::geteuid() == 0) out += "User www-data\nGroup www-data\n";
    if (how.tls)
        out += fmt::format("SSLEngine on\nSSLCertificateFile {0}/server.pem\nSSLSessionCache none\n", base.string());
    out +=
        fmt::format("DavLockDB {0}/locks/db\nDocumentRoot {0}/files\n<Directory {0}/files>\nDav On\n", base.string());
    if (how.auth == RealServer::Auth::None)
        out += "Require all granted\n";
    else if (how.auth == RealServer::Auth::Basic)
        out += fmt::format("AuthType Basic\nAuthName papers\nAuthUserFile {}/users.apache\nRequire valid-user\n",
                           base.string());
    else
        out += fmt::format("AuthType Digest\nAuthName papers\nAuthUserFile {}/users.digest\nRequire valid-user\n",
                           base.string());
    return out + "</Directory>\n";
}

std::string ssh_words(const fs::path& base, int port) {
    return fmt::format(R"(Port {1}
ListenAddress 127.0.0.1
HostKey {0}/host_key
AuthorizedKeysFile {0}/authorized
StrictModes no
UsePAM no
PasswordAuthentication no
PidFile {0}/pid
Subsystem sftp internal-sftp
)",
                       base.string(), port);
}

}

int free_port() {
    const int socket = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    sockaddr_in address = loopback(0);
    ::bind(socket, reinterpret_cast<const sockaddr*>(&address), sizeof address);
    socklen_t size = sizeof address;
    ::getsockname(socket, reinterpret_cast<sockaddr*>(&address), &size);
    ::close(socket);
    return ntohs(address.sin_port);
}

SilentServer::SilentServer() : socket_(::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0)), port_(free_port()) {
    const sockaddr_in address = loopback(port_);
    EXPECT_EQ(::bind(socket_, reinterpret_cast<const sockaddr*>(&address), sizeof address), 0);
    EXPECT_EQ(::listen(socket_, 8), 0);
}

SilentServer::~SilentServer() {
    for (const int each : taken_) ::close(each);
    ::close(socket_);
}

void SilentServer::wait_for_somebody() { taken_.push_back(::accept(socket_, nullptr, nullptr)); }

void make_certificate(const fs::path& pem) {
    const std::string key = pem.string() + ".key", made = pem.string() + ".crt";
    EXPECT_EQ(run({"openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes",
                   "-days", "2", "-subj", "/CN=Wendle papers", "-addext", "subjectAltName=DNS:localhost", "-keyout",
                   key, "-out", made})
                  .status,
              0);
    write_file(pem, read_file(key) + read_file(made));
}

StandInServer::StandInServer(std::vector<std::string> manners) : port_(free_port()) {
    write_file(password_file(), std::string(password) + "\n");
    make_certificate(certificate());
    start(std::move(manners));
}

void StandInServer::start(std::vector<std::string> manners) {
    stop();
    tls_ = std::ranges::find(manners, "--tls") != manners.end();
    for (std::string& each : manners)
        if (each == "its own") each = certificate().string();
    std::vector<std::string> words{YELVIN_BENCH_SERVER, "--folder", files().string(), "--port", std::to_string(port_)};
    words.insert(words.end(), manners.begin(), manners.end());
    process_ = begin(std::move(words), base_ / "said");
    for (int i = 0; i < 800 && !answers(port_); ++i) ::usleep(10'000);
    EXPECT_TRUE(answers(port_)) << read_file(base_ / "said");
}

void StandInServer::stop() {
    if (process_ <= 0) return;
    ::kill(process_, SIGKILL);
    ::waitpid(process_, nullptr, 0);
    process_ = -1;
}

Server StandInServer::server() const {
    return {"Papers", fmt::format("{}://localhost:{}/", tls_ ? "https" : "http", port_), "heron", {}, {}, true};
}

SignIn StandInServer::sign_in() const { return {Secret(password), certificate().string() + ".crt"}; }

std::vector<std::string> files_within(const fs::path& folder) {
    std::vector<std::string> out;
    for (const auto& each : fs::recursive_directory_iterator(folder)) {
        const std::string name = each.path().filename().string();
        const bool of_server =
            name == ".DAV" || name.starts_with(".davfs.tmp") || each.path().parent_path().filename() == ".DAV";
        if (each.is_regular_file() && !of_server) out.push_back(fs::relative(each.path(), folder).string());
    }
    std::ranges::sort(out);
    return out;
}

RealServer::RealServer(const How& how) : how_(how), port_(free_port()) {
    fs::create_directories(files());
    fs::create_directories(base_ / "locks");
    fs::permissions(base_.path(), fs::perms::all); // of the user that it runs as
    fs::permissions(files(), fs::perms::all);
    fs::permissions(base_ / "locks", fs::perms::all);
    if (how.tls) make_certificate(base_ / "server.pem");
    write_file(base_ / "users", fmt::format("heron:{}\n", password));
    write_file(base_ / "password", password);
    if (how.which == Which::Apache) {
        run({"htpasswd", "-b", "-c", (base_ / "users.apache").string(), "heron", password});
        const std::string secret = fmt::format("heron:papers:{}", password);
        const std::string hash =
            run({"bash", "-c", fmt::format("printf '%s' '{}' | md5sum", secret)}).out.substr(0, 32);
        write_file(base_ / "users.digest", fmt::format("heron:papers:{}\n", hash));
    }
    if (is_sftp()) make_keys();
    if (how.auth == Auth::Agent) begin_agent();
    start();
}

RealServer::~RealServer() {
    stop();
    if (mounted_) ::umount2(files().c_str(), MNT_DETACH);
    if (agent_ <= 0) return;
    ::kill(agent_, SIGKILL);
    ::waitpid(agent_, nullptr, 0);
    ::unsetenv("SSH_AUTH_SOCK");
}

void RealServer::make_keys() {
    const std::string lock = how_.auth == Auth::LockedKey ? password : "";
    const auto make = [&](const char* key, const std::string& with) {
        EXPECT_EQ(run({"ssh-keygen", "-q", "-t", "ed25519", "-N", with, "-f", (base_ / key).string()}).status, 0);
    };
    make("host_key", "");
    make("own_key", lock);
    fs::copy_file(base_ / "own_key.pub", base_ / "authorized");
}

void RealServer::begin_agent() {
    const std::string socket = (base_ / "agent").string();
    agent_ = begin({"/usr/bin/ssh-agent", "-D", "-a", socket}, base_ / "agent.said");
    for (int i = 0; i < 800 && !fs::exists(socket); ++i) ::usleep(10'000);
    ::setenv("SSH_AUTH_SOCK", socket.c_str(), 1);
    EXPECT_EQ(run({"ssh-add", "-q", (base_ / "own_key").string()}).status, 0);
}

bool RealServer::has_only(std::uint64_t bytes) {
    const std::string options = fmt::format("mode=777,size={}", bytes);
    mounted_ = ::mount("tmpfs", files().c_str(), "tmpfs", mounted_ ? MS_REMOUNT : 0, options.c_str()) == 0;
    return mounted_;
}

std::vector<std::string> RealServer::command() const {
    const std::string words = (base_ / "conf").string();
    switch (how_.which) {
    case Which::Lighttpd:
        return {"/usr/sbin/lighttpd", "-D", "-f", words};
    case Which::Apache:
        return {"/usr/sbin/apache2", "-X", "-f", words};
    case Which::AsyncSsh:
        return {"/usr/bin/python3",
                "-W",
                "ignore",
                YELVIN_SFTP_SERVER,
                (base_ / "host_key").string(),
                files().string(),
                std::to_string(port_),
                "heron",
                (base_ / "password").string()};
    case Which::OpenSsh:
        break;
    }
    return {"/usr/sbin/sshd", "-D", "-e", "-f", words};
}

void RealServer::configure() {
    write_file(base_ / "conf", how_.which == Which::Lighttpd ? lighttpd_words(how_, base_.path(), port_)
                               : how_.which == Which::Apache ? apache_words(how_, base_.path(), port_)
                                                             : ssh_words(base_.path(), port_));
}

void RealServer::start() {
    configure();
    // Apache waits for ever for a list of locks that it was creating when it was killed.
    for (const auto& each : fs::directory_iterator(base_ / "locks")) fs::remove(each);
    if (how_.which == Which::OpenSsh && ::geteuid() == 0) fs::create_directories("/run/sshd");
    process_ = begin(command(), base_ / "said");
    for (int i = 0; i < 800 && !answers(port_); ++i) ::usleep(10'000);
    EXPECT_TRUE(answers(port_)) << problem();
}

void RealServer::stop() {
    if (process_ <= 0) return;
    kill_with_children(process_);
    ::waitpid(process_, nullptr, 0);
    process_ = -1;
}

void RealServer::change_certificate() {
    stop();
    if (is_sftp()) {
        fs::remove(base_ / "host_key");
        run({"ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", (base_ / "host_key").string()});
    } else {
        make_certificate(base_ / "server.pem");
    }
    start();
}

Server RealServer::server() const {
    Server server{"Papers", fmt::format("{}://localhost:{}/", how_.tls ? "https" : "http", port_)};
    server.plain_password = true; // accepted, as the user may; what happens otherwise has a test of its own
    if (how_.auth != Auth::None) server.user = "heron";
    if (!is_sftp()) return server;
    const bool has_root = how_.which == Which::AsyncSsh; // of its own
    server.address = fmt::format("sftp://localhost:{}{}", port_, has_root ? "/" : files().string());
    if (how_.which == Which::OpenSsh) {
        server.user = run({"id", "-un"}).out;
        server.user.pop_back();
    }
    if (how_.auth == Auth::Key || how_.auth == Auth::LockedKey) server.key_file = (base_ / "own_key").string();
    server.fingerprint =
        run({"bash", "-c", fmt::format("ssh-keygen -lf {}/host_key.pub | cut -d' ' -f2", base_.path().string())}).out;
    server.fingerprint.pop_back();
    return server;
}

SignIn RealServer::sign_in() const {
    SignIn with;
    if (how_.auth != Auth::None && how_.auth != Auth::Key && how_.auth != Auth::Agent) with.password = Secret(password);
    if (how_.tls) with.authorities = (base_ / "server.pem.crt").string();
    return with;
}

std::string RealServer::problem() const { return read_file(base_ / "said") + read_file(base_ / "log"); }

}
