// The queue of files that are to be sent to servers. Each is delivered exactly once, one after the other, whatever
// breaks in between: a crash, a power cut, the network, the server.
//
// The queue stores a copy of each file until it was sent, so the original may be moved or changed meanwhile. The list
// is on disk and survives restarts; passwords are in memory only.
#pragma once

#include "jobs/executor.h"
#include "jobs/send_item.h"

#include <chrono>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <vector>

namespace yelvin {

// A file to be added to the queue.
struct ToSend {
    std::filesystem::path file;
    std::string document; // id of the tray's document that it belongs to; may be empty
    Server server;
    RemotePath folder; // below the server's address
    std::string name;  // wanted on the server
};

class SendStore;

// All member functions are thread-safe and return at once; the work is done on the executors. Its callbacks are called
// on the executors' threads.
class SendQueue {
  public:
    struct Executors {
        Executor keeping; // runs tasks that touch the list, one after another
        Executor sending; // runs tasks that may take hours, one after another
    };
    // Called on the threads of either executor.
    struct Tell {
        std::function<void()> changed;                                       // items() returns something else now
        std::function<void(long long id, std::uint64_t done)> progress = {}; // of the item that is being sent
    };
    // Opens the queue stored in `folder`, or creates it. Items that were being sent are waiting again. Errors: Busy if
    // another program has the queue; NotWritable; BadInput if the list cannot be read, which is then left as it is.
    static Result<std::unique_ptr<SendQueue>> open(const std::filesystem::path& folder, const Executors& executors,
                                                   Tell tell);
    // No task may be running on the executors any more.
    ~SendQueue();

    // Adds all files or, on an error, none. `then` is called on the keeping executor once they are stored. Errors:
    // NotWritable if they cannot be stored.
    void add(std::vector<ToSend> files, std::function<void(const Result<void>&)> then);
    // The next functions do nothing for an id that does not exist.
    void pause(long long id);  // until retry(); stops it if it is being sent
    void retry(long long id);  // makes it due at once, unless it was sent or is being sent
    void remove(long long id); // also deletes its temporary upload from the server, if that is possible
    // Sends it to another place, unless it was sent or is being sent.
    void send_elsewhere(long long id, const Server& server, const RemotePath& folder);
    void clear_sent(); // removes the items that were sent
    // Sets the password for all items of this address and user. It is kept in memory only.
    void give_password(const Server& server, const Secret& password);
    // Accepts what the server at this address presented, for all of its items: a fingerprint, or that it takes the
    // password unencrypted only.
    void trust(const std::string& address, const Remote::Identity& identity);
    // Sends the items that are due. Call it at the start and at the time that next_due() returns.
    void wake();
    // Ends the transfer under way soon and begins no other; the next start continues.
    void stop();

    std::vector<SendItem> items() const; // the oldest first
    // When the next waiting item is due; nullopt if none is waiting.
    std::optional<std::chrono::sys_seconds> next_due() const;

  private:
    struct Running {
        long long id = 0;
        std::stop_source stop;
    };
    Executors executors_;
    Tell tell_;
    mutable std::mutex guard_; // protects everything below and the store
    std::unique_ptr<SendStore> store_;
    std::vector<SendItem> items_;
    std::map<long long, DeliveryState> states_;
    std::map<long long, std::string> tokens_;
    std::map<std::string, Secret> passwords_; // by address and user
    std::optional<Running> running_;
    bool is_sending_ = false;
    std::stop_source stopped_;

    SendQueue(const Executors& executors, Tell tell, std::unique_ptr<SendStore> store);
    SendItem* item(long long id);
    void change(long long id, const std::function<void(SendItem&)>& how); // stores and announces the change
    bool keep(const SendItem& item);
    std::optional<long long> take_next();
    void send_all();
    struct Connection;
    void send(long long id, std::unique_ptr<Connection>& open);
    void end(long long id, const Result<Sent>& how, const Remote* remote);
    void know(const SendItem& item, const std::string& token, const DeliveryState& state);
};

}
