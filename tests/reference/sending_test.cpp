// Sending to real servers: lighttpd's and Apache's WebDAV, OpenSSH's and asyncssh's SFTP, with and without TLS, a
// password, a key, an agent.
#include "core/sending/delivery.h"

#include "core/sending/server_check.h"
#include "support/servers.h"
#include "support/trials.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <random>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

using Which = RealServer::Which;
using Auth = RealServer::Auth;

std::string noise(std::size_t bytes, unsigned seed) {
    std::mt19937 random(seed);
    std::string out(bytes, '\0');
    for (char& c : out) c = static_cast<char>(random());
    return out;
}

class Sending : public ::testing::TestWithParam<RealServer::How> {
  protected:
    RealServer there{GetParam()};
    TempFolder here;
    DeliveryState kept;
    const std::string odd = "Größe & 100% \"#1\"; a+b?.pdf";

    Delivery delivery(const std::string& name, const std::string& bytes, RemotePath folder = {}) {
        write_file(here / "file", bytes);
        return {here / "file", std::move(folder), name, "token" + std::to_string(next_++)};
    }
    Result<Sent> send(const Delivery& delivery, const Server& server, const Remote::Progress& progress = {}) {
        auto remote = connect_to(server, there.sign_in(), {});
        if (!remote) return std::unexpected(remote.error());
        return deliver(
            **remote, delivery, kept,
            [this](const DeliveryState& state) -> Result<void> { return kept = state, Result<void>(); }, progress);
    }
    Result<Sent> send(const Delivery& delivery) {
        kept = {};
        return send(delivery, there.server());
    }

  private:
    int next_ = 1;
};

TEST_P(Sending, ArrivesByteForByteBesideExistingFiles) {
    const std::string bytes = noise(300'000, 1);
    const Delivery first = delivery(odd, bytes, {"Leases 50%", "2026"});
    const auto sent = send(first);
    ASSERT_TRUE(sent) << sent.error().sentence << there.problem();
    EXPECT_EQ(sent->bytes, bytes.size());
    EXPECT_TRUE(sent->url.starts_with(there.server().address)) << sent->url;
    EXPECT_EQ(read_file(there.files() / "Leases 50%/2026" / odd), bytes);
    // If the name is taken, the next number is used and the existing file is unchanged; an empty file is a file too.
    ASSERT_TRUE(send(delivery(odd, "", {"Leases 50%", "2026"})));
    EXPECT_EQ(read_file(there.files() / "Leases 50%/2026" / odd), bytes);
    EXPECT_EQ(
        files_within(there.files()),
        (std::vector<std::string>{"Leases 50%/2026/Größe & 100% \"#1\"; a+b? (2).pdf", "Leases 50%/2026/" + odd}));
    // A large file looks for a free name while it is being uploaded.
    const std::string large = noise(1'500'000, 9);
    for (const char* name : {"Lease.pdf", "Lease (2).pdf"}) {
        ASSERT_TRUE(send(delivery("Lease.pdf", large, {"Large"}))) << there.problem();
        EXPECT_EQ(read_file(there.files() / "Large" / name), large) << name;
    }
    // A file exists where a folder is needed.
    const auto refused = send(delivery("x", "x", {"Leases 50%", "2026", odd}));
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().kind, ErrorKind::BadInput) << refused.error().sentence;
    EXPECT_EQ(files_within(there.files()).size(), 4U);
}

// The server's disk is full: this is reported, existing files are unchanged, and no partial file has the file's name;
// later the file arrives.
TEST_P(Sending, AFullServerGetsTheFileWhenThereIsRoom) {
    if (!there.has_only(1'000'000)) GTEST_SKIP() << "this user may not mount a file system of its own";
    const std::string bytes = noise(700'000, 5);
    const Delivery lease = delivery("Lease.pdf", bytes);
    ASSERT_TRUE(send(lease)) << there.problem();
    const Delivery again = delivery("Lease.pdf", bytes);
    const auto full = send(again);
    ASSERT_FALSE(full);
    EXPECT_TRUE(full.error().kind == ErrorKind::DiskFull || full.error().kind == ErrorKind::Offline)
        << full.error().sentence;
    EXPECT_EQ(read_file(there.files() / "Lease.pdf"), bytes);
    EXPECT_FALSE(fs::exists(there.files() / "Lease (2).pdf")) << full.error().sentence;
    ASSERT_TRUE(there.has_only(3'000'000));
    const auto sent = send(again, there.server());
    ASSERT_TRUE(sent) << sent.error().sentence << there.problem();
    EXPECT_EQ(read_file(there.files() / "Lease (2).pdf"), bytes);
    EXPECT_EQ(files_within(there.files()).size(), 2U) << "and no part of the first try";
}

TEST_P(Sending, AServerKilledDuringTheUploadGetsTheFileOnce) {
    const std::string bytes = noise(6'000'000, 2);
    const Delivery lease = delivery("Lease.pdf", bytes);
    bool killed = false;
    const auto broken = send(lease, there.server(), [&](std::uint64_t sent) {
        if (sent > 2'000'000 && !std::exchange(killed, true)) there.stop();
    });
    ASSERT_TRUE(killed);
    ASSERT_FALSE(broken);
    EXPECT_EQ(broken.error().kind, ErrorKind::Offline) << broken.error().sentence;
    const auto dead = send(lease, there.server());
    ASSERT_FALSE(dead);
    EXPECT_NE(dead.error().sentence.find("is not responding"), std::string::npos) << dead.error().sentence;
    there.start();
    const auto sent = send(lease, there.server());
    ASSERT_TRUE(sent) << sent.error().sentence << there.problem();
    EXPECT_EQ(files_within(there.files()), std::vector<std::string>{"Lease.pdf"});
    EXPECT_EQ(read_file(there.files() / "Lease.pdf"), bytes);
}

TEST_P(Sending, ManyFilesUseOneConnection) {
    const int many = trials(20);
    auto remote = connect_to(there.server(), there.sign_in(), {});
    for (int i = 0; i < many; ++i) {
        const std::string bytes = noise(3000 + static_cast<size_t>(i) * 37, static_cast<unsigned>(i));
        const auto sent = deliver(**remote, delivery("Page.pdf", bytes), {},
                                  [](const DeliveryState&) -> Result<void> { return {}; }, {});
        ASSERT_TRUE(sent) << sent.error().sentence;
        ASSERT_EQ(sent->name, name_of_attempt("Page.pdf", i));
        ASSERT_EQ(read_file(there.files() / sent->name), bytes);
    }
    EXPECT_EQ(files_within(there.files()).size(), static_cast<size_t>(many));
}

TEST_P(Sending, TheTestReportsEachStep) {
    std::vector<ServerStep> steps;
    const auto tell = [&](const ServerStep& step) { steps.push_back(step); };
    test_server(there.server(), there.sign_in(), {"Leases"}, {}, tell);
    for (const ServerStep& step : steps)
        EXPECT_TRUE(step.ok) << step_name(step.what) << ": " << step.words << there.problem();
    ASSERT_GE(steps.size(), 6U);
    EXPECT_EQ(steps[5].what, ServerStep::What::Writing);
    EXPECT_TRUE(files_within(there.files()).empty());
    there.stop();
    steps.clear();
    test_server(there.server(), there.sign_in(), {}, {}, tell);
    ASSERT_EQ(steps.size(), 2U);
    EXPECT_TRUE(steps[0].ok);
    EXPECT_EQ(steps[1].what, ServerStep::What::Connection);
    EXPECT_FALSE(steps[1].ok);
}

TEST_P(Sending, AnUntrustedServerGetsNothing) {
    const RealServer::How how = GetParam();
    const Delivery lease = delivery("Lease.pdf", noise(50'000, 3));
    if (!there.sign_in().password.empty()) {
        auto remote = connect_to(there.server(), {Secret("wrong"), there.sign_in().authorities}, {});
        const auto refused = deliver(**remote, lease, {}, [](const DeliveryState&) -> Result<void> { return {}; }, {});
        ASSERT_FALSE(refused);
        EXPECT_EQ(refused.error().kind, ErrorKind::Encrypted) << refused.error().sentence;
        EXPECT_NE(refused.error().sentence.find(there.server().user), std::string::npos);
    }
    if (!how.tls && !there.is_sftp()) return;
    // No authority confirms the certificate: it is shown, and accepted once by its fingerprint.
    Server server = there.server();
    server.fingerprint.clear();
    SignIn unknown = there.sign_in();
    unknown.authorities.clear();
    auto remote = connect_to(server, unknown, {});
    const auto untrusted = (*remote)->entry_at({});
    ASSERT_FALSE(untrusted);
    EXPECT_EQ(untrusted.error().kind, ErrorKind::Untrusted) << untrusted.error().sentence;
    ASSERT_TRUE((*remote)->identity().fingerprint.starts_with("SHA256:")) << (*remote)->identity().words;
    server.fingerprint = (*remote)->identity().fingerprint;
    if (there.is_sftp()) {
        EXPECT_EQ(server.fingerprint, there.server().fingerprint) << "as ssh-keygen says it";
    }
    remote = connect_to(server, unknown, {});
    ASSERT_TRUE((*remote)->entry_at({}));
    // A different certificate is never accepted silently, even if an authority confirms it.
    there.change_certificate();
    remote = connect_to(server, there.sign_in(), {});
    const auto changed = deliver(**remote, lease, {}, [](const DeliveryState&) -> Result<void> { return {}; }, {});
    ASSERT_FALSE(changed);
    EXPECT_EQ(changed.error().kind, ErrorKind::Untrusted) << changed.error().sentence;
    EXPECT_NE((*remote)->identity().fingerprint, server.fingerprint);
    EXPECT_TRUE(files_within(there.files()).empty());
}

// OpenSSH and asyncssh refuse to rename to an existing file, even if it did not exist a moment before.
TEST(SftpServer, ANameTakenAtTheLastMomentIsNotReplaced) {
    const RealServer there({Which::AsyncSsh, false, Auth::Password});
    const TempFolder here;
    write_file(here / "file", "ours");
    auto remote = connect_to(there.server(), there.sign_in(), {});
    const auto sent = deliver(**remote, {here / "file", {}, "taken meanwhile.pdf", "token"}, {},
                              [](const DeliveryState&) -> Result<void> { return {}; }, {});
    ASSERT_TRUE(sent) << sent.error().sentence << there.problem();
    EXPECT_EQ(sent->name, "taken meanwhile (2).pdf");
    EXPECT_EQ(read_file(there.files() / "taken meanwhile.pdf"), "another's");
    EXPECT_EQ(read_file(there.files() / sent->name), "ours");
    EXPECT_EQ(files_within(there.files()).size(), 2U);
}

const RealServer::How kinds[] = {{Which::Lighttpd, false, Auth::None}, {Which::Lighttpd, true, Auth::Basic},
                                 {Which::Apache, false, Auth::Digest}, {Which::Apache, true, Auth::Basic},
                                 {Which::OpenSsh, false, Auth::Key},   {Which::OpenSsh, false, Auth::LockedKey},
                                 {Which::OpenSsh, false, Auth::Agent}, {Which::AsyncSsh, false, Auth::Password}};

std::string name_of(const ::testing::TestParamInfo<RealServer::How>& info) {
    constexpr const char* names[] = {"Lighttpd", "Apache", "OpenSsh", "AsyncSsh"};
    return fmt::format("{}{}", names[static_cast<int>(info.param.which)], info.index);
}

INSTANTIATE_TEST_SUITE_P(Real, Sending, ::testing::ValuesIn(kinds), name_of);

}
}
