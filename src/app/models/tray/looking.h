// Checks new pages in the background and applies the corrections that follow from their tickets. Lives on the window's
// thread.
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
    // `crashed_before`: the program crashed last time; pages that were being checked then are left alone.
    Looking(Messages& messages, OutTray& tray, Pictures& pictures, Experience& experience, Tickets& tickets,
            ReaderPool& readers, Pools& pools, bool crashed_before, QObject* parent = nullptr);

    // Checks a page and applies the corrections of the ticket. Emits looked_at(), even if the page was deleted
    // meanwhile, unless its file cannot be read.
    void look_at(const PagePtr& page, const Ticket& ticket);

    // Decides about a side that is in doubt by the sheet's other side. Emits looked_at().
    void look_through(const PagePtr& side, const PagePtr& other);

    // Number of pages being checked and files being added or stitched.
    int in_work() const { return in_work_; }
    bool is_looking_at(const std::string& page_id) const { return under_way_.contains(page_id); }
    void work_begins();
    void work_ends();

    // Reports that work on a page failed. After an exception the page is left alone from now on.
    void failed(const std::string& page_id, const Error& why);
    PageLooker* looker() { return looker_.get(); } // null without a store

  signals:
    void changed(); // in_work() changed
    void looked_at(const QString& page_id);

  private:
    Messages& messages_;
    OutTray& tray_;
    Pictures& pictures_;
    Experience& experience_;
    std::unique_ptr<PageLooker> looker_; // null without a store
    bool crashed_before_;
    int in_work_ = 0;
    std::multiset<std::string> under_way_; // page ids
    void look_at_rest(const Ticket& ticket);
    void take(const std::string& page_id, const LookedAt& found, const Ticket& ticket);
    void leave_alone(const std::vector<std::string>& page_ids, const Error& why);
};

}
