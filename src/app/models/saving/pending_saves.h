// The documents that are being saved, with the tickets to save them as, stored beside the out tray so that saving
// continues at the next start, however the program ended. Contains no passwords.
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
    // Shared by documents that are saved together; never null.
    using ByDocument = std::map<std::string, std::shared_ptr<const Ticket>>;

    // `keeping` runs the writes one after another.
    PendingSaves(const std::filesystem::path& store_folder, Executor keeping);

    // Returns what an earlier session left; empty if there is no file or it cannot be read. Blocks; may be called on
    // any thread.
    static ByDocument left_in(const std::filesystem::path& store_folder);

    // Changes are written in the background.
    void note(const std::string& document, std::shared_ptr<const Ticket> ticket);
    void forget(const std::string& document); // the document was saved, or will not be
    void take_over(ByDocument left);          // takes over the result of left_in()
    // Returns null if the document is not to be saved.
    std::shared_ptr<const Ticket> ticket_of(const std::string& document) const;

  private:
    // What is to be written next, shared with the writing task.
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
