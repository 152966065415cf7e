// Documents that were given to saving and are not saved yet, with what they are to be saved as: kept beside the out
// tray, so that saving goes on at the next start, however the program ended. No password is in it.
#pragma once

#include "core/ticket/ticket.h"
#include "jobs/executor.h"

#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <string>

namespace yelvin {

class PendingSaves {
  public:
    // Shared by documents that were given together; never null.
    using ByDocument = std::map<std::string, std::shared_ptr<const Ticket>>;

    // `keeping`: where the file is written, one after the other.
    PendingSaves(const std::filesystem::path& store_folder, Executor keeping);

    // What an earlier start left; empty where there is no file, or none that can be read. Blocks; on any thread.
    static ByDocument left_in(const std::filesystem::path& store_folder);

    // Written in the background.
    void note(const std::string& document, std::shared_ptr<const Ticket> ticket);
    void forget(const std::string& document); // it is saved, or is not going to be
    void take_over(ByDocument left);          // what left_in() gave counts as noted
    // Null: the document is not to be saved.
    std::shared_ptr<const Ticket> ticket_of(const std::string& document) const;

  private:
    // What is to be written next; shared with whoever writes.
    struct Latest {
        std::mutex guard;
        ByDocument all;
        bool is_handed_over = false;
    };
    std::filesystem::path file_;
    Executor keeping_;
    ByDocument all_;
    std::shared_ptr<Latest> latest_ = std::make_shared<Latest>();

    void keep();
};

}
