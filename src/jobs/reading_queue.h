// The queue of pages to be read in the background, a few at a time: the page that the user looks at first, otherwise in
// the tray's order. The caller states all wanted pages whenever they change; pages that are no longer wanted are
// stopped, and nothing is read twice. All functions are called on the thread of `here`; only `Read` runs elsewhere.
#pragma once

#include "core/error.h"
#include "core/text/text_layer.h"
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
    // Reads a page. Blocks; called on `reading`, for several pages at the same time.
    using Read = std::function<Result<TextLayer>(const PagePtr& page, const std::vector<std::string>& languages,
                                                 const std::stop_token& stop, const Progress& progress)>;
    using Coming = std::shared_future<Result<TextLayer>>; // the result of a page that is being read

    struct Executors {
        Executor reading, here;
    };
    struct Tell { // callbacks on `here`; each may be empty
        // A page was read or could not be read. Not called for a page that was stopped.
        std::function<void(const PagePtr&, const std::vector<std::string>&, const Result<TextLayer>&)> done;
        std::function<void()> changed; // left(), percent_of() or is_stopped() changed
    };
    // `at_once`: number of pages that are read at the same time. `stop` ends them permanently.
    ReadingQueue(Read read, Executors executors, int at_once, Tell tell, std::stop_token stop);

    struct Wanted {
        PagePtr page;
        std::vector<std::string> languages;
    };
    // States the wanted pages, in the order in which they are to be read. A page that is being read continues if it is
    // among them unchanged.
    void want(std::vector<Wanted> pages);
    void look_at(const std::string& page_id); // reads this page next, if it is wanted

    void stop(); // until go_on(), which begins interrupted pages again
    void go_on();
    bool is_stopped() const { return is_stopped_; }

    size_t left() const { return waiting_.size() + under_way_.size(); }
    // Progress of a page; 0 while it waits, nullopt if it is neither waiting nor being read.
    std::optional<int> percent_of(const std::string& page_id) const;

    // Removes a page that the caller is going to read itself from the queue; if it is being read already, returns its
    // result to wait for.
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
    std::unordered_set<std::string> waiting_ids_; // of waiting_
    std::vector<ItemPtr> under_way_;

    void begin_more();
    void begin(Wanted what);
    void end(const ItemPtr& item, const Result<TextLayer>& text);
    void changed() const;
};

}
