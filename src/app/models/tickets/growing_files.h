// The files to which tickets add their documents: the present one for each ticket, and when the next one is begun.
// Stored in last.json. Used on the window's thread.
#pragma once

#include "core/ticket/ticket.h"

#include <QObject>
#include <QString>

#include <chrono>
#include <filesystem>
#include <map>
#include <memory>

namespace yelvin {

class LastChoices;

class GrowingFiles : public QObject {
    Q_OBJECT
  public:
    explicit GrowingFiles(LastChoices& last, QObject* parent = nullptr);

    // Returns the file to which the ticket's next document is added; empty if it begins a new one.
    std::filesystem::path current(const Ticket& ticket) const;
    // Returns until when documents are added: "until you begin another", "today", "this month".
    static QString until(const Ticket& ticket);
    // Returns SaveOrder::grows for orders that save into this folder: the same object for all of them until the file's
    // time is over.
    std::shared_ptr<std::filesystem::path> for_saving(const Ticket& ticket, const std::filesystem::path& folder);
    void note_saved(const Ticket& ticket, const std::filesystem::path& file);
    void moved(const std::filesystem::path& from, const std::filesystem::path& to);
    void end(const Ticket& ticket); // the next document begins a new file

  signals:
    void changed();

  private:
    LastChoices& last_;
    struct InUse {
        std::shared_ptr<std::filesystem::path> file;
        std::filesystem::path folder;
        std::string begun; // day on which it was begun, yyyy-mm-dd
    };
    std::map<std::string, InUse> in_use_; // by the ticket's name
    struct Kept {
        std::filesystem::path file;
        std::string begun;
    };
    Kept kept(const Ticket& ticket) const;
    void keep(const std::string& ticket, const Kept& kept);
};

}
