// Items on their way through several steps, on several threads: some steps work on items side by side, others take one
// at a time and in order.
#pragma once

#include "jobs/told_order.h"

#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <utility>

namespace yelvin {

template <typename Item>
struct WorkingLine {
    std::function<std::optional<size_t>()> next; // in order, the number of an item; none ends the line
    std::function<Item(size_t)> made;            // side by side
    std::function<void(Item&)> counted;          // in order
    std::function<void(Item&)> worked_on;        // side by side
    std::function<void(Item&)> taken;            // in order; the item goes after it
};

// Returns once all items are through. At most one more than `workers` items are on their way.
template <typename Item>
void carry_through(const WorkingLine<Item>& line, int workers) {
    using tbb::filter_mode;
    std::mutex mutex;
    std::map<size_t, Item> under_way;
    const auto item = [&](size_t number) -> Item& {
        const std::scoped_lock lock(mutex);
        return under_way.at(number);
    };
    const ToldOrder order;
    const auto next = [&](tbb::flow_control& control) -> size_t {
        const InToldOrder in(order);
        const std::optional<size_t> number = line.next();
        if (!number) control.stop();
        return number.value_or(0);
    };
    const auto made = [&](size_t number) {
        const InToldOrder in(order);
        Item one = line.made(number);
        const std::scoped_lock lock(mutex);
        under_way.emplace(number, std::move(one));
        return number;
    };
    const auto counted = [&](size_t number) {
        const InToldOrder in(order);
        line.counted(item(number));
        return number;
    };
    const auto worked_on = [&](size_t number) {
        const InToldOrder in(order);
        line.worked_on(item(number));
        return number;
    };
    const auto taken = [&](size_t number) {
        const InToldOrder in(order);
        line.taken(item(number));
        const std::scoped_lock lock(mutex);
        under_way.erase(number);
    };
    order.give();
    // Also where an exception ends the line: oneTBB waits for all tasks first.
    const struct TakenBack {
        const ToldOrder& order;
        ~TakenBack() { order.take(); }
    } taken_back{order};
    tbb::task_arena arena(workers);
    arena.execute([&] {
        tbb::parallel_pipeline(static_cast<size_t>(workers) + 1,
                               tbb::make_filter<void, size_t>(filter_mode::serial_in_order, next) &
                                   tbb::make_filter<size_t, size_t>(filter_mode::parallel, made) &
                                   tbb::make_filter<size_t, size_t>(filter_mode::serial_in_order, counted) &
                                   tbb::make_filter<size_t, size_t>(filter_mode::parallel, worked_on) &
                                   tbb::make_filter<size_t, void>(filter_mode::serial_in_order, taken));
    });
}

}
