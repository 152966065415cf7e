// Pages that are to be read in the background, a few at a time: the one that is looked at first, else in the tray's
// order. What is wanted is said anew whenever it changes; what is no longer wanted is stopped, and nothing is read
// twice. All but the reading itself happens on the thread of `here`.
#pragma once

#include "core/tray/tray.h"
#include "jobs/executor.h"

#include <deque>
#include <functional>
#include <future>
#include <memory>
#include <optional>
#include <stop_token>
#include <unordered_set>

namespace yelvin {

class ReadingQueue {
  public:
    using Progress = std::function<void(int percent)>;
    // Blocks; called on `reading`, for several pages at once.
    using Read = std::function<Result<TextLayer>(const PagePtr& page, const std::vector<std::string>& languages,
                                                 const std::stop_token& stop, const Progress& progress)>;
    using Coming = std::shared_future<Result<TextLayer>>; // a reading that is under way

    struct Executors {
        Executor reading, here;
    };
    struct Tell { // each may be empty
        // A page was read, or could not be; not told of one that was stopped.
        std::function<void(const PagePtr&, const std::vector<std::string>&, const Result<TextLayer>&)> done;
        std::function<void()> changed; // left(), percent_of(), is_stopped()
    };
    // `stop` ends what is under way for good. All that is given must outlive it.
    ReadingQueue(Read read, Executors executors, int at_once, Tell tell, std::stop_token stop);

    struct Wanted {
        PagePtr page;
        std::vector<std::string> languages;
    };
    // In the order in which they are to be read. A page under way goes on if it is among them as it was.
    void want(std::vector<Wanted> pages);
    void look_at(const std::string& page_id); // is read next, if it is wanted

    void stop(); // until go_on(); what is under way is begun anew then
    void go_on();
    bool is_stopped() const { return is_stopped_; }

    size_t left() const { return waiting_.size() + under_way_.size(); }
    // Nothing: the page is neither waiting (0) nor under way.
    std::optional<int> percent_of(const std::string& page_id) const;

    // For whoever is about to read the page anyway: it waits no longer; its reading, where it is under way.
    std::optional<Coming> hand_over(const std::string& page_id);

  private:
    struct Item {
        Wanted what;
        int percent = 0;
        std::stop_source stop;
        std::promise<Result<TextLayer>> promise;
        Coming coming = promise.get_future().share();
    };
    using ItemPtr = std::shared_ptr<Item>;

    Read read_;
    Executors executors_;
    size_t at_once_;
    Tell tell_;
    std::stop_token stop_;
    bool is_stopped_ = false;
    std::string looked_at_;
    std::deque<Wanted> waiting_;
    std::unordered_set<std::string> waiting_ids_; // the same
    std::vector<ItemPtr> under_way_;

    void begin_more();
    void begin(Wanted what);
    void end(const ItemPtr& item, const Result<TextLayer>& text);
    void changed() const;
};

}
