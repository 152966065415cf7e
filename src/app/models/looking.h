// Pages that have come in are looked at in the background, and their corrections decided by the ticket.
#pragma once

#include "jobs/page_looker.h"

#include <QObject>

#include <memory>
#include <set>

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

    // Ends with looked_at(), even if the page was deleted meanwhile, unless its file cannot be read. The ticket decides
    // what is corrected.
    void look_at(const PagePtr& page, const Ticket& ticket);

    // Decides whether what is on a side shines through from the sheet's other side; ends with looked_at().
    void look_through(const PagePtr& side, const PagePtr& other);

    // Pages being looked at, and files being taken in or put together: whatever ends with more to see.
    int in_work() const { return in_work_; }
    bool is_looking_at(const std::string& page_id) const { return under_way_.contains(page_id); }
    void work_begins();
    void work_ends();

    // Work on the page failed: where it broke down the page is left alone from now on, else it is said.
    void failed(const std::string& page_id, const Error& why);
    PageLooker* looker() { return looker_.get(); } // null without a store

  signals:
    void changed(); // in_work()
    void looked_at(const QString& page_id);

  private:
    Messages& messages_;
    OutTray& tray_;
    Pictures& pictures_;
    Experience& experience_;
    std::unique_ptr<PageLooker> looker_; // none without a store
    bool crashed_before_;
    int in_work_ = 0;
    std::multiset<std::string> under_way_; // pages

    void look_at_rest(const Ticket& ticket);
    void take(const std::string& page_id, const LookedAt& found, const Ticket& ticket);
    void leave_alone(const std::vector<std::string>& page_ids, const Error& why);
};

}
