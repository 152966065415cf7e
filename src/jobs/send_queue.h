// Files on their way to servers: kept on disk, one after the other, each once and only once, whatever breaks in
// between. The files are held here until they have arrived, so that they may be moved or changed meanwhile.
#pragma once

#include "core/sending/delivery.h"
#include "jobs/executor.h"

#include <chrono>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <vector>

namespace yelvin {

struct ToSend {
    std::filesystem::path file;
    std::string document; // of the tray; may be empty
    Server server;
    RemotePath folder; // below the server's address
    std::string name;  // there
};

struct SendItem {
    long long id = 0;
    std::string document;
    std::filesystem::path from; // where the file lay when it was handed in
    Server server;
    RemotePath folder;
    std::string name;
    enum class Is { Waits, Runs, Held, WantsPassword, Failed, Arrived } is = Is::Waits;
    std::string why;                     // it waits, wants a password or failed; may be empty
    Remote::Shown shown = {};            // a certificate or host key to be looked at; not kept over a restart
    int tries = 0;                       // that did not do
    std::chrono::sys_seconds next_try{}; // while it waits
    std::uint64_t done = 0, bytes = 0;   // `done`: of those, while it runs
    std::string url;                     // where it arrived
};

class SendStore;

class SendQueue {
  public:
    struct Executors {
        Executor keeping; // for what takes a moment, one after another
        Executor sending; // for what may take hours, one after another
    };
    // On either of those threads.
    struct Tell {
        std::function<void()> changed;                                       // items() are others now
        std::function<void(long long id, std::uint64_t done)> progress = {}; // of the one that runs
    };
    // Makes the folder where it is missing. What was running waits again. Errors: Busy, another program has it;
    // NotWritable; BadInput for a list that cannot be read, which stays as it is.
    static Result<std::unique_ptr<SendQueue>> open(const std::filesystem::path& folder, const Executors& executors,
                                                   Tell tell);
    ~SendQueue(); // nothing may be running on the executors any more

    // All or none; on an Error none is in it. `then` on the keeping thread.
    void add(std::vector<ToSend> files, std::function<void(const Result<void>&)> then);
    void hold(long long id);     // stops it where it is
    void again(long long id);    // at once, whatever became of it
    void take_out(long long id); // and what is there of it under its own name
    void send_elsewhere(long long id, const Server& server, const RemotePath& folder);
    void forget_arrived();
    // For all that go there with this user; held in memory only.
    void give_password(const Server& server, const Secret& password);
    // Accepts, for all that wait for that server, what it showed: a fingerprint, or that it takes the password only
    // unencrypted.
    void trust(const std::string& address, const Remote::Shown& shown);
    // Begins what is due, as long as there is any. To be called at the start and whenever next_due() has come.
    void wake();
    void stop(); // what runs ends soon and is taken up at the next start

    std::vector<SendItem> items() const; // the oldest first
    std::optional<std::chrono::sys_seconds> next_due() const;

    // How long until another try, after so many that did not do.
    static std::chrono::seconds pause_after(int tries);

  private:
    struct Running {
        long long id = 0;
        std::stop_source stop;
    };
    Executors executors_;
    Tell tell_;
    std::unique_ptr<SendStore> store_; // under the guard too
    mutable std::mutex guard_;
    std::vector<SendItem> items_;
    std::map<long long, DeliveryState> states_;
    std::map<long long, std::string> tokens_;
    std::map<std::string, Secret> passwords_; // by address and user
    std::optional<Running> running_;
    bool is_sending_ = false;
    std::stop_source stopped_;

    SendQueue(const Executors& executors, Tell tell, std::unique_ptr<SendStore> store);
    SendItem* item(long long id);
    void change(long long id, const std::function<void(SendItem&)>& how); // kept, then told
    bool keep(const SendItem& item);
    std::optional<long long> take_next();
    void send_all();
    struct Connection;
    void send(long long id, std::unique_ptr<Connection>& open);
    void end(long long id, const Result<Sent>& how, const Remote* remote);
    void know(const SendItem& item, const std::string& token, const DeliveryState& state);
};

}
