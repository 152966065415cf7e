// Files that wait to be sent: stored over restarts, tried again, paused, corrected, and each on the server exactly
// once.
#include "jobs/send_queue.h"

#include "support/servers.h"
#include "support/trials.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <signal.h>
#include <sys/mount.h>
#include <sys/wait.h>
#include <unistd.h>

#include <deque>
#include <fstream>
#include <future>
#include <random>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

using State = SendItem::State;

class SendQueueTest : public ::testing::Test {
  protected:
    TempFolder here;
    std::deque<Task> to_send; // by hand
    std::unique_ptr<SendQueue> queue;
    int told = 0;

    void open() {
        queue.reset();
        to_send.clear();
        auto opened = SendQueue::open(
            here / "sending",
            {[](const Task& task) { task(); }, [this](Task task) { to_send.push_back(std::move(task)); }},
            {[this] { ++told; }});
        ASSERT_TRUE(opened) << opened.error().sentence;
        queue = std::move(*opened);
    }
    void run() {
        while (!to_send.empty()) {
            const Task task = std::move(to_send.front());
            to_send.pop_front();
            task();
        }
    }
    ToSend file(const std::string& name, const std::string& bytes, const Server& server) {
        write_file(here / name, bytes);
        return {here / name, "document of " + name, server, {"Box"}, name};
    }
    Result<void> add(std::vector<ToSend> files) {
        Result<void> done = fail(ErrorKind::Internal, "nobody was told");
        queue->add(std::move(files), [&](const Result<void>& how) { done = how; });
        return done;
    }
    SendItem only() { return queue->items().at(0); }
    // Changes the list on disk through its own connection, as another program would.
    void change_list(const std::string& sql) const {
        SQLite::Database((here / "sending/sending.sqlite").string(), SQLite::OPEN_READWRITE).exec(sql);
    }
};

TEST_F(SendQueueTest, AnAddedFileArrivesEvenIfItIsChangedOrDeletedLater) {
    StandInServer there;
    open();
    ASSERT_TRUE(add({file("a.pdf", "the lease", there.server()), file("b.pdf", "the bill", there.server())}));
    fs::remove(here / "a.pdf");
    fs::rename(here / "b.pdf", here / "moved.pdf");
    open(); // the program ended before anything was sent
    ASSERT_EQ(queue->items().size(), 2U);
    EXPECT_EQ(only().document, "document of a.pdf");
    queue->wake();
    run();
    EXPECT_EQ(files_within(there.files()), (std::vector<std::string>{"Box/a.pdf", "Box/b.pdf"}));
    EXPECT_EQ(read_file(there.files() / "Box/a.pdf"), "the lease");
    EXPECT_EQ(only().state, State::Sent);
    EXPECT_EQ(only().url, there.server().address + "Box/a.pdf");
    EXPECT_EQ(files_within(here / "sending"),
              (std::vector<std::string>{"lock", "sending.sqlite", "sending.sqlite-shm", "sending.sqlite-wal"}));
    open();
    EXPECT_EQ(only().state, State::Sent) << "known over a restart";
    queue->clear_sent();
    EXPECT_TRUE(queue->items().empty());
    // If a program writes into the file instead of replacing it, what is sent does not change.
    ASSERT_TRUE(add({file("d.pdf", "as it was handed in", there.server())}));
    std::ofstream(here / "d.pdf", std::ios::in | std::ios::out) << "AS IT IS NOW";
    run();
    EXPECT_EQ(read_file(here / "d.pdf"), "AS IT IS NOWnded in");
    EXPECT_EQ(read_file(there.files() / "Box/d.pdf"), "as it was handed in");
    queue->clear_sent();
    // If one of the files does not exist, none is added.
    EXPECT_FALSE(add({file("c.pdf", "c", there.server()), {here / "nothing.pdf", "", there.server(), {}, "n"}}));
    EXPECT_TRUE(queue->items().empty());
}

TEST_F(SendQueueTest, TemporaryFailuresAreRetriedAndOthersWaitForTheUser) {
    StandInServer there({"--busy", "120"});
    open();
    const auto before = std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now());
    ASSERT_TRUE(add({file("a.pdf", "a", there.server())}));
    run();
    EXPECT_EQ(only().state, State::Waiting);
    EXPECT_EQ(only().tries, 1);
    EXPECT_GE(only().next_try - before, std::chrono::seconds(120)) << "as long as it asks to";
    EXPECT_EQ(queue->next_due(), only().next_try);
    queue->wake();
    run();
    EXPECT_EQ(only().tries, 1) << "not before";
    there.stop();
    queue->retry(only().id);
    run();
    EXPECT_NE(only().why.find("is not responding"), std::string::npos) << only().why;
    there.start({"--refuse"});
    queue->retry(only().id);
    run();
    EXPECT_EQ(only().state, State::Failed);
    EXPECT_NE(only().why.find("denied access"), std::string::npos) << only().why;
    // The server is full: this is reported, and the file is tried again.
    there.start({"--quota", "10"});
    queue->remove(only().id);
    run();
    ASSERT_TRUE(add({file("large.pdf", std::string(100, 'x'), there.server())}));
    run();
    EXPECT_EQ(only().state, State::Waiting);
    EXPECT_NE(only().why.find("no space left"), std::string::npos) << only().why;
    there.start({});
    queue->retry(only().id);
    run();
    EXPECT_EQ(only().state, State::Sent) << only().why;
    EXPECT_EQ(files_within(there.files()), std::vector<std::string>{"Box/large.pdf"});
    for (int tries = 1; tries < 9; ++tries) EXPECT_LE(pause_after(tries), pause_after(tries + 1));
    EXPECT_EQ(pause_after(1), std::chrono::seconds(5));
    EXPECT_EQ(pause_after(100), std::chrono::minutes(15));
}

TEST_F(SendQueueTest, WaitsForAPasswordOrCertificateAndStoresNeither) {
    StandInServer there({"--tls", "its own", "--user", "heron", "--password-file", "/dev/null"});
    there.start({"--tls", "its own", "--digest", "--user", "heron", "--password-file", there.password_file().string()});
    open();
    ASSERT_TRUE(add({file("a.pdf", "a", there.server()), file("b.pdf", "b", there.server())}));
    run();
    ASSERT_EQ(only().state, State::Failed);
    ASSERT_TRUE(only().identity.fingerprint.starts_with("SHA256:")) << only().why;
    queue->trust(there.server().address, only().identity);
    run();
    for (const SendItem& each : queue->items()) EXPECT_EQ(each.state, State::NeedsPassword) << each.why;
    queue->give_password(there.server(), Secret("not this one"));
    run();
    EXPECT_EQ(only().state, State::NeedsPassword);
    queue->give_password(there.server(), there.sign_in().password);
    run();
    for (const SendItem& each : queue->items()) EXPECT_EQ(each.state, State::Sent) << each.why;
    EXPECT_EQ(files_within(there.files()).size(), 2U);
    const std::string password(there.sign_in().password.letters());
    for (const std::string& each : files_within(here.path()))
        EXPECT_EQ(read_file(here / each).find(password), std::string::npos) << each;
}

TEST_F(SendQueueTest, ItemsCanBePausedRemovedAndSentElsewhere) {
    StandInServer there, other;
    there.stop();
    open();
    ASSERT_TRUE(add(
        {file("a.pdf", "a", there.server()), file("b.pdf", "b", there.server()), file("c.pdf", "c", there.server())}));
    run();
    const auto items = queue->items();
    queue->pause(items[0].id);
    queue->remove(items[1].id);
    queue->send_elsewhere(items[2].id, other.server(), {"Else"});
    run();
    EXPECT_EQ(files_within(other.files()), std::vector<std::string>{"Else/c.pdf"});
    open();
    ASSERT_EQ(queue->items().size(), 2U);
    EXPECT_EQ(only().state, State::Paused) << "over a restart too";
    there.start({});
    queue->wake();
    run();
    EXPECT_TRUE(files_within(there.files()).empty());
    queue->retry(only().id);
    run();
    EXPECT_EQ(files_within(there.files()), std::vector<std::string>{"Box/a.pdf"});
}

// The progress at one server does not apply to another.
TEST_F(SendQueueTest, AnItemSentElsewhereStartsAgainUnderItsOwnName) {
    StandInServer there, other;
    there.stop();
    open();
    ASSERT_TRUE(add({file("a.pdf", "a", there.server())}));
    run();
    queue.reset();
    constexpr auto putting = static_cast<int>(DeliveryState::Phase::PuttingDirectly);
    change_list(fmt::format("UPDATE items SET delivery = {}, attempt = 2", putting));
    open();
    queue->send_elsewhere(only().id, other.server(), {"Else"});
    run();
    EXPECT_EQ(only().state, State::Sent) << only().why;
    EXPECT_EQ(files_within(other.files()), std::vector<std::string>{"Else/a.pdf"});
}

TEST_F(SendQueueTest, APasswordForOneServerDoesNotStartItemsOfAnother) {
    StandInServer one, other;
    for (StandInServer* each : {&one, &other})
        each->start({"--digest", "--user", "heron", "--password-file", each->password_file().string()});
    open();
    ASSERT_TRUE(add({file("a.pdf", "a", one.server()), file("b.pdf", "b", other.server())}));
    run();
    for (const SendItem& each : queue->items()) ASSERT_EQ(each.state, State::NeedsPassword) << each.why;
    queue->give_password(one.server(), one.sign_in().password);
    EXPECT_EQ(queue->items()[0].state, State::Waiting);
    EXPECT_EQ(queue->items()[1].state, State::NeedsPassword);
    run();
    EXPECT_EQ(queue->items()[0].state, State::Sent) << queue->items()[0].why;
    EXPECT_EQ(queue->items()[1].state, State::NeedsPassword);
}

// The next start asks the server how much has arrived, and needs the file if it is not complete.
TEST_F(SendQueueTest, AFileIsKeptIfItsArrivalCannotBeRecorded) {
    StandInServer there;
    open();
    ASSERT_TRUE(add({file("a.pdf", "the lease", there.server())}));
    change_list(fmt::format("CREATE TRIGGER no_room BEFORE UPDATE ON items WHEN NEW.state = {} BEGIN SELECT "
                            "RAISE(ABORT, 'no room'); END",
                            static_cast<int>(State::Sent)));
    const auto kept = [this] { return files_within(here / "sending").size(); };
    const size_t before = kept();
    run();
    EXPECT_EQ(files_within(there.files()), std::vector<std::string>{"Box/a.pdf"});
    EXPECT_EQ(kept(), before) << "the file is let go of only when its arrival is known for good";
    change_list("DROP TRIGGER no_room");
    open();
    ASSERT_EQ(queue->items().size(), 1U);
    EXPECT_NE(only().state, State::Sent);
    queue->wake();
    run();
    EXPECT_EQ(only().state, State::Sent) << only().why;
    EXPECT_EQ(files_within(there.files()), std::vector<std::string>{"Box/a.pdf"}) << "once";
    EXPECT_LT(kept(), before);
}

// The partial upload of a removed file is deleted from the server; closing does not wait for that.
TEST_F(SendQueueTest, ClosingDoesNotWaitForCleanUpOnAServer) {
    std::optional<SilentServer> silent(std::in_place);
    open();
    ASSERT_TRUE(add({file("a.pdf", "a", {"Silent", fmt::format("http://127.0.0.1:{}/", silent->port()), {}})}));
    queue->pause(only().id);
    run();
    queue->remove(only().id);
    auto taking_away = std::async(std::launch::async, [this] { run(); });
    silent->wait_for_somebody();
    queue->stop();
    EXPECT_EQ(taking_away.wait_for(std::chrono::seconds(10)), std::future_status::ready)
        << "it would be given up later";
    silent.reset();
}

// If there is no room for the added files, this is reported and none is added; with room, adding works as always.
TEST_F(SendQueueTest, OnAFullDiskAllFilesAreAddedOrNone) {
    StandInServer there;
    fs::create_directories(here / "sending");
    const std::string place = here / "sending";
    if (mount("tmpfs", place.c_str(), "tmpfs", 0, "size=480k") != 0)
        GTEST_SKIP() << "this user may not mount a file system of its own";
    open();
    const std::string large(500'000, 'l');
    const auto both = [&] {
        return std::vector{file("small.pdf", "s", there.server()), file("large.pdf", large, there.server())};
    };
    const auto full = add(both());
    ASSERT_FALSE(full);
    EXPECT_NE(full.error().sentence.find("make room there"), std::string::npos) << full.error().sentence;
    EXPECT_TRUE(queue->items().empty());
    for (const std::string& each : files_within(place)) EXPECT_FALSE(each.ends_with(".sending")) << each;
    EXPECT_EQ(read_file(here / "large.pdf"), large) << "where it came from it stays";
    // The disk is completely full: an empty file can be stored, but its row cannot.
    std::ofstream filler(here / "sending/filler", std::ios::binary);
    while (filler.write(large.data(), 4096).flush()) {
    }
    EXPECT_FALSE(add({file("empty.pdf", "", there.server())}));
    EXPECT_TRUE(queue->items().empty());
    ASSERT_EQ(mount("tmpfs", place.c_str(), "tmpfs", MS_REMOUNT, "size=4m"), 0);
    ASSERT_TRUE(add(both()));
    run();
    EXPECT_EQ(files_within(there.files()), (std::vector<std::string>{"Box/large.pdf", "Box/small.pdf"}));
    EXPECT_EQ(read_file(there.files() / "Box/large.pdf"), large);
    queue.reset();
    umount2(place.c_str(), MNT_DETACH);
}

// A server that counts sign-ins, as many do to stop people who guess passwords, sees one for a whole queue.
TEST_F(SendQueueTest, ManyFilesUseOneConnection) {
    RealServer there({RealServer::Which::OpenSsh, false, RealServer::Auth::Key});
    open();
    std::vector<ToSend> pile;
    for (int i = 0; i < 6; ++i) pile.push_back(file(fmt::format("{}.pdf", i), std::to_string(i), there.server()));
    ASSERT_TRUE(add(std::move(pile)));
    run();
    EXPECT_EQ(files_within(there.files()).size(), 6U) << only().why;
    const std::string log = there.problem(), came_in = "Accepted publickey";
    const size_t first = log.find(came_in);
    ASSERT_NE(first, std::string::npos) << log;
    EXPECT_EQ(log.find(came_in, first + 1), std::string::npos) << log;
}

// The connection breaks in the middle of a file until another server takes its place; a second program is told that the
// list is in use; a damaged list is left as it is.
TEST_F(SendQueueTest, ReportsASecondProgramAndADamagedList) {
    StandInServer there({"--break-after", "50000"});
    open();
    const std::string bytes(300'000, 'y');
    ASSERT_TRUE(add({file("a.pdf", bytes, there.server())}));
    run();
    EXPECT_EQ(only().state, State::Waiting) << only().why;
    there.start({"--cannot-move"});
    queue->retry(only().id);
    run();
    EXPECT_EQ(only().state, State::Sent) << only().why;
    EXPECT_EQ(files_within(there.files()), std::vector<std::string>{"Box/a.pdf"});
    EXPECT_EQ(read_file(there.files() / "Box/a.pdf"), bytes);
    const SendQueue::Executors none{[](const Task&) {}, [](const Task&) {}};
    const auto second = SendQueue::open(here / "sending", none, {[] {}});
    ASSERT_FALSE(second);
    EXPECT_EQ(second.error().kind, ErrorKind::Busy);
    queue.reset();
    for (const char* log : {"sending.sqlite-wal", "sending.sqlite-shm"}) fs::remove(here / "sending" / log);
    write_file(here / "sending/sending.sqlite", std::string(5000, 'z'));
    const auto damaged = SendQueue::open(here / "sending", none, {[] {}});
    ASSERT_FALSE(damaged);
    EXPECT_EQ(damaged.error().kind, ErrorKind::BadInput);
    EXPECT_EQ(read_file(here / "sending/sending.sqlite"), std::string(5000, 'z'));
}

// A program that sends everything that is due and ends.
[[noreturn]] void send_all(const fs::path& folder, const fs::path& papers, const Server& server) {
    const Executor at_once = [](const Task& task) { task(); };
    auto queue = SendQueue::open(folder, {at_once, at_once}, {[] {}});
    if (!queue) ::_exit(3);
    if ((*queue)->items().empty()) {
        std::vector<ToSend> all;
        for (int i = 0; i < 20; ++i) all.push_back({papers / fmt::format("{}.pdf", i), "", server, {}, "Page.pdf"});
        bool good = false;
        (*queue)->add(std::move(all), [&](const Result<void>& done) { good = done.has_value(); });
        if (!good) ::_exit(4);
    }
    (*queue)->wake();
    const auto items = (*queue)->items();
    ::_exit(std::ranges::all_of(items, [](const SendItem& each) { return each.state == State::Sent; }) ? 0 : 5);
}

int ends(pid_t process) {
    int status = 0;
    ::waitpid(process, &status, 0);
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

TEST(SendQueueKilled, EachFileArrivesOnceWheneverTheProgramIsKilled) {
    const TempFolder papers;
    std::vector<std::string> wanted;
    for (int i = 0; i < 20; ++i) {
        wanted.push_back(fmt::format("page {} {}", i, std::string(static_cast<size_t>(i) * 400, 'p')));
        write_file(papers / fmt::format("{}.pdf", i), wanted.back());
    }
    std::ranges::sort(wanted);
    std::mt19937 random(static_cast<unsigned>(trials(11)));
    double whole_ms = 0;
    for (int trial = 0; trial <= trials(6); ++trial) {
        StandInServer there(trial % 3 == 2 ? std::vector<std::string>{"--cannot-move"} : std::vector<std::string>{});
        const TempFolder base;
        const auto begin = std::chrono::steady_clock::now();
        for (int kills = trial == 0 ? 0 : 2; kills > 0; --kills) {
            const pid_t process = ::fork();
            if (process == 0) send_all(base / "sending", papers.path(), there.server());
            ::usleep(static_cast<useconds_t>(std::uniform_real_distribution<double>(0, whole_ms * 900)(random)));
            ::kill(process, SIGKILL);
            ends(process);
        }
        const pid_t process = ::fork();
        if (process == 0) send_all(base / "sending", papers.path(), there.server());
        ASSERT_EQ(ends(process), 0);
        if (trial == 0)
            whole_ms = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin).count();
        std::vector<std::string> arrived;
        for (const std::string& each : files_within(there.files())) arrived.push_back(read_file(there.files() / each));
        std::ranges::sort(arrived);
        ASSERT_EQ(arrived, wanted) << "trial " << trial;
    }
}

TEST_F(SendQueueTest, ItemsWaitingForAPasswordAreRetriedAtTheNextStart) {
    StandInServer there;
    open();
    ASSERT_TRUE(add({file("a.pdf", "a", there.server())}));
    change_list("UPDATE items SET state = " + std::to_string(static_cast<int>(State::NeedsPassword)));
    open();
    EXPECT_EQ(only().state, State::Waiting) << "the keyring may have it by now";
    queue->wake();
    run();
    EXPECT_EQ(only().state, State::Sent);
}

}
}
