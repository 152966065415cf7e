// A pipeline of steps on several threads (oneTBB): some steps process items in parallel, others one at a time and in
// order.
#pragma once

#include "jobs/tsan_order.h"

#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <utility>

namespace yelvin {

template <typename Item>
struct Pipeline {
    std::function<std::optional<size_t>()> next; // in order: returns the number of an item; nullopt ends the pipeline
    std::function<Item(size_t)> made;            // in parallel
    std::function<void(Item&)> counted;          // in order
    std::function<void(Item&)> worked_on;        // in parallel
    std::function<void(Item&)> taken;            // in order; the item is destroyed afterwards
};

// Runs the pipeline and returns when all items are done. At most `workers` + 1 items exist at a time. Exceptions of the
// steps are passed on.
template <typename Item>
void run_pipeline(const Pipeline<Item>& line, int workers) {
    using tbb::filter_mode;
    std::mutex mutex;
    std::map<size_t, Item> under_way;
    const auto item = [&](size_t number) -> Item& {
        const std::scoped_lock lock(mutex);
        return under_way.at(number);
    };
    const TsanOrder order;
    const auto next = [&](tbb::flow_control& control) -> size_t {
        const TsanScope in(order);
        const std::optional<size_t> number = line.next();
        if (!number) control.stop();
        return number.value_or(0);
    };
    const auto made = [&](size_t number) {
        const TsanScope in(order);
        Item one = line.made(number);
        const std::scoped_lock lock(mutex);
        under_way.emplace(number, std::move(one));
        return number;
    };
    const auto counted = [&](size_t number) {
        const TsanScope in(order);
        line.counted(item(number));
        return number;
    };
    const auto worked_on = [&](size_t number) {
        const TsanScope in(order);
        line.worked_on(item(number));
        return number;
    };
    const auto taken = [&](size_t number) {
        const TsanScope in(order);
        line.taken(item(number));
        const std::scoped_lock lock(mutex);
        under_way.erase(number);
    };
    order.give();
    // Also if an exception ends the pipeline: oneTBB waits for all tasks first.
    const struct TakenBack {
        const TsanOrder& order;
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
