// The queue of files to be sent, on disk: a list (sending.sqlite) and, beside it, copies of the files, named by the
// token of their row. Used by SendQueue only.
#pragma once

#include "core/storage/store_lock.h"
#include "jobs/send_queue.h"

namespace SQLite {
class Database;
}

namespace yelvin {

// Functions throw std::exception if something cannot be read or stored. Those that concern the list are called by one
// thread at a time; those that concern files by any.
class SendStore {
  public:
    SendStore(std::filesystem::path folder, StoreLock lock);
    ~SendStore();
    const std::filesystem::path& folder() const { return folder_; }

    struct Row {
        SendItem item;
        std::string token; // identifies this delivery, see Delivery::token
        DeliveryState state = {};
    };
    // Returns the rows, the oldest first. Items that were being sent are waiting again. Deletes all but the latest 200
    // sent ones, and files that no row needs.
    std::vector<Row> load();
    // Adds all rows or none, and sets their ids. Their files must be stored already.
    void add(std::vector<Row>& rows);
    void put(const SendItem& item, const DeliveryState& state);
    void remove(long long id);
    void clear_sent();

    std::filesystem::path file_of(const std::string& token) const;
    // Stores a copy of the file, which shares its blocks if the file system can do that. It is on disk on return.
    void store_file(const std::filesystem::path& from, const std::string& token) const;
    void delete_file(const std::string& token) const;

  private:
    std::filesystem::path folder_;
    StoreLock lock_;
    std::unique_ptr<SQLite::Database> database_;
    void open();
    void remove_strays(const std::vector<Row>& rows) const;
};

}
