// Pages that have come in are looked at in the background, their corrections decided by the ticket, and read.
#pragma once

#include "jobs/page_looker.h"

#include <QHash>
#include <QObject>

#include <memory>

namespace yelvin {

class Experience;
class Messages;
class OutTray;
class Pictures;
class Pools;
class Tickets;

class Looking : public QObject {
    Q_OBJECT
  public:
    // `crashed_before`: the program broke down the last time; pages that were being looked at then are left alone.
    Looking(Messages& messages, OutTray& tray, Pictures& pictures, Experience& experience, Tickets& tickets,
            ReaderPool& readers, Pools& pools, bool crashed_before, QObject* parent = nullptr);

    // Ends with looked_at(), unless the page is gone by then or cannot be read. The ticket decides what is corrected
    // and whether it is read at once.
    void look_at(const PagePtr& page, const Ticket& ticket);

    // Pages being looked at or read, and files being taken in or put together: whatever ends with more to see.
    int in_work() const { return in_work_; }
    void work_begins();
    void work_ends();

    int doubtful_words(const QString& page_id) const { return doubtful_.value(page_id, 0); } // as far as it was read

  signals:
    void changed(); // in_work() or doubtful_words()
    void looked_at(const QString& page_id);

  private:
    Messages& messages_;
    OutTray& tray_;
    Pictures& pictures_;
    Experience& experience_;
    std::unique_ptr<PageLooker> looker_; // none without a store
    bool crashed_before_;
    int in_work_ = 0;
    QHash<QString, int> doubtful_;

    void look_at_rest(const Ticket& ticket);
    void take(const std::string& page_id, const LookedAt& found, const Ticket& ticket);
    void failed(const std::string& page_id, const Error& why);
    void leave_alone(const std::vector<std::string>& page_ids, const Error& why);
    void read(const PagePtr& page, const Ticket& ticket);
};

}
