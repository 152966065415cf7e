// What is to be sent, on disk: a list (sending.sqlite), and beside it the files, by the token of their row.
#pragma once

#include "core/tray/store_lock.h"
#include "jobs/send_queue.h"

namespace SQLite {
class Database;
}

namespace yelvin {

// Throws std::exception where something cannot be read or kept. The list is for one thread at a time; files are for
// any.
class SendStore {
  public:
    SendStore(std::filesystem::path folder, StoreLock lock);
    ~SendStore();
    const std::filesystem::path& folder() const { return folder_; }

    struct Row {
        SendItem item;
        std::string token; // of this delivery alone
        DeliveryState state = {};
    };
    // The oldest first; what was running waits. Files that no row wants any more go.
    std::vector<Row> load();
    void add(std::vector<Row>& rows); // all or none; each gets its number
    void put(const SendItem& item, const DeliveryState& state);
    void remove(long long id);
    void forget_arrived();

    std::filesystem::path file_of(const std::string& token) const;
    // The same file under another name where that can be, else a copy; on disk when it returns.
    void hold_file(const std::filesystem::path& from, const std::string& token) const;
    void let_go_of_file(const std::string& token) const;

  private:
    std::filesystem::path folder_;
    StoreLock lock_;
    std::unique_ptr<SQLite::Database> database_;
    void open();
    void remove_strays(const std::vector<Row>& rows) const;
};

}
