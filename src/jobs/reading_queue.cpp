#include "jobs/reading_queue.h"

#include "jobs/trouble.h"

#include <algorithm>
#include <utility>

namespace yelvin {

namespace {
constexpr int progress_step = 5; // percent; a page is not painted anew for less

const std::string& id_of(const ReadingQueue::Wanted& wanted) { return wanted.page->id; }
}

ReadingQueue::ReadingQueue(Read read, Executors executors, int at_once, Tell tell, std::stop_token stop)
    : read_(std::move(read)), executors_(std::move(executors)), at_once_(static_cast<size_t>(at_once)),
      tell_(std::move(tell)), stop_(std::move(stop)) {}

void ReadingQueue::changed() const {
    if (tell_.changed) tell_.changed();
}

void ReadingQueue::want(std::vector<Wanted> pages) {
    const auto goes_on = [&](const ItemPtr& item) {
        const auto wanted = std::ranges::find(pages, item->what.page->id, id_of);
        return wanted != pages.end() && wanted->page->recipe == item->what.page->recipe &&
               wanted->languages == item->what.languages;
    };
    for (const ItemPtr& item : under_way_)
        if (!goes_on(item)) item->stop.request_stop();
    std::erase_if(under_way_, [](const ItemPtr& item) { return item->stop.stop_requested(); });
    std::erase_if(pages, [&](const Wanted& wanted) {
        return std::ranges::any_of(under_way_,
                                   [&](const ItemPtr& item) { return item->what.page->id == wanted.page->id; });
    });
    waiting_.assign(std::make_move_iterator(pages.begin()), std::make_move_iterator(pages.end()));
    waiting_ids_.clear();
    for (const Wanted& wanted : waiting_) waiting_ids_.insert(wanted.page->id);
    begin_more();
    changed();
}

void ReadingQueue::look_at(const std::string& page_id) { looked_at_ = page_id; }

void ReadingQueue::stop() {
    if (std::exchange(is_stopped_, true)) return;
    for (auto at = under_way_.rbegin(); at != under_way_.rend(); ++at) {
        (*at)->stop.request_stop();
        waiting_.push_front((*at)->what);
        waiting_ids_.insert((*at)->what.page->id);
    }
    under_way_.clear();
    changed();
}

void ReadingQueue::go_on() {
    if (!std::exchange(is_stopped_, false)) return;
    begin_more();
    changed();
}

std::optional<int> ReadingQueue::percent_of(const std::string& page_id) const {
    for (const ItemPtr& item : under_way_)
        if (item->what.page->id == page_id) return item->percent;
    return waiting_ids_.contains(page_id) ? std::optional(0) : std::nullopt;
}

std::optional<ReadingQueue::Coming> ReadingQueue::hand_over(const std::string& page_id) {
    for (const ItemPtr& item : under_way_)
        if (item->what.page->id == page_id) return item->coming;
    if (waiting_ids_.erase(page_id) == 0) return std::nullopt;
    std::erase_if(waiting_, [&](const Wanted& wanted) { return id_of(wanted) == page_id; });
    changed();
    return std::nullopt;
}

void ReadingQueue::begin_more() {
    while (!is_stopped_ && !stop_.stop_requested() && !waiting_.empty() && under_way_.size() < at_once_) {
        auto next = std::ranges::find(waiting_, looked_at_, id_of);
        if (next == waiting_.end()) next = waiting_.begin();
        Wanted what = std::move(*next);
        waiting_.erase(next);
        waiting_ids_.erase(what.page->id);
        begin(std::move(what));
    }
}

void ReadingQueue::begin(Wanted what) {
    auto item = std::make_shared<Item>();
    item->what = std::move(what);
    under_way_.push_back(item);
    executors_.reading([this, item] {
        const std::stop_callback with_all(stop_, [&item] { item->stop.request_stop(); });
        const std::stop_token stop = item->stop.get_token();
        const Progress progress = [this, &item, told = 0](int percent) mutable {
            if (percent < told + progress_step) return;
            told = percent;
            executors_.here([this, item, percent] {
                item->percent = percent;
                changed();
            });
        };
        auto text = stop.stop_requested() ? stopped() : caught("reading a page", [&] {
            return read_(item->what.page, item->what.languages, stop, progress);
        });
        item->promise.set_value(text);
        executors_.here([this, item, text = std::move(text)] { end(item, text); });
    });
}

void ReadingQueue::end(const ItemPtr& item, const Result<TextLayer>& text) {
    std::erase(under_way_, item);
    begin_more();
    if (tell_.done && (text || text.error().kind != ErrorKind::Stopped))
        tell_.done(item->what.page, item->what.languages, text);
    changed();
}

}
