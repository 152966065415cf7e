#include "devices/sane/session.h"

#include "devices/sane/option_io.h"

#include <sane/sane.h>

#include <poll.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <optional>
#include <thread>
#include <utility>

namespace yelvin::sane {

namespace {

// Initialises libsane once. Listing, opening and closing devices hold this mutex, because backends do not support
// concurrent calls. A backend that hangs never releases it, so every caller waits with a time limit.
std::timed_mutex& library() {
    // Never destroyed, because a hanging backend may still hold it when the program ends.
    static auto* mutex = new std::timed_mutex;
    static const bool started = [] {
        SANE_Int version = 0;
        return sane_init(&version, nullptr) == SANE_STATUS_GOOD;
    }();
    (void)started;
    return *mutex;
}

}

namespace {

constexpr std::chrono::seconds closing_turn{10}, opening_turn{25}, listing_turn{60};

// A listing in progress. There is at most one; it runs on a detached thread.
struct ListingUnderWay {
    std::mutex mutex;
    std::condition_variable done;
    bool runs = false;
    std::vector<Listing> found; // The result of the last listing that completed.
};

ListingUnderWay& listing() {
    static auto* under_way = new ListingUnderWay; // never destroyed: its thread may outlive the program's end
    return *under_way;
}

void list_now() {
    std::optional<std::vector<Listing>> found;
    if (std::unique_lock turn(library(), listing_turn); turn) {
        const SANE_Device** list = nullptr;
        found.emplace();
        if (sane_get_devices(&list, SANE_FALSE) == SANE_STATUS_GOOD && list)
            for (; *list; ++list)
                found->push_back(
                    {words((*list)->name), words((*list)->vendor), words((*list)->model), words((*list)->type)});
    }
    const std::scoped_lock lock(listing().mutex);
    if (found) listing().found = std::move(*found);
    listing().runs = false;
    listing().done.notify_all();
}

}

std::vector<Listing> list_devices(std::chrono::milliseconds limit) {
    std::unique_lock lock(listing().mutex);
    if (!std::exchange(listing().runs, true)) std::thread(list_now).detach();
    listing().done.wait_for(lock, limit, [] { return !listing().runs; });
    return listing().found;
}

struct Session::State {
    std::string device;
    SANE_Handle handle = nullptr; // Used on the device's thread only, except by sane_cancel().
    std::mutex mutex;
    std::condition_variable tasks_changed, arrivals_changed, idle;
    std::deque<std::function<void(State&)>> tasks;
    std::deque<Arrival> arrivals;
    size_t queued_bytes = 0;
    bool busy = false, ended = false, lost = false;
    std::atomic<bool> cancel = false;
    std::chrono::steady_clock::time_point started; // of the frame being read

    void run();
    void read_all(int pages);
    int read_frame(bool& last_frame);
    void push(Arrival arrival);
    int take_bytes(std::vector<std::uint8_t>& bytes);
};

namespace {
constexpr size_t read_size = 128 * 1024, chunk_size = 64 * 1024, queue_limit = 48U << 20;
constexpr std::int64_t pipe_size = 60 * 1024;
constexpr std::chrono::milliseconds tidying_time{25};
constexpr std::chrono::milliseconds growing_pace{50};   // a slow page is shown in steps of this
constexpr std::chrono::milliseconds starting_time{400}; // a backend's reader is under way after this

FrameParameters parameters_of(const SANE_Parameters& p) {
    constexpr std::array formats{Frame::Grey, Frame::Rgb, Frame::Red, Frame::Green, Frame::Blue};
    const bool known = p.format >= SANE_FRAME_GRAY && p.format <= SANE_FRAME_BLUE;
    return {known ? formats[static_cast<size_t>(p.format)] : Frame::Grey,
            p.last_frame != SANE_FALSE,
            p.bytes_per_line,
            p.pixels_per_line,
            p.lines,
            known ? p.depth : 0};
}
}

void Session::State::run() {
    for (;;) {
        std::function<void(State&)> task;
        {
            std::unique_lock lock(mutex);
            tasks_changed.wait(lock, [&] { return ended || !tasks.empty(); });
            if (ended) break;
            task = std::move(tasks.front());
            tasks.pop_front();
            busy = true;
        }
        bool threw = false;
        try {
            task(*this);
        } catch (const std::exception&) {
            threw = true; // The caller then gives the device up.
        }
        const std::scoped_lock lock(mutex);
        busy = false;
        idle.notify_all();
        if (threw) break;
    }
    if (handle) {
        // If the mutex cannot be locked in time, the device stays open until the program ends.
        if (const std::unique_lock turn(library(), closing_turn); turn) sane_close(handle);
        handle = nullptr;
    }
    const std::scoped_lock lock(mutex);
    busy = false;
    lost = true;
    idle.notify_all();
}

void Session::State::push(Arrival arrival) {
    std::unique_lock lock(mutex);
    arrivals_changed.wait(lock, [&] { return queued_bytes < queue_limit || cancel; });
    queued_bytes += arrival.bytes.size();
    arrivals.push_back(std::move(arrival));
    arrivals_changed.notify_all();
}

// Calls sane_read() once and appends what it returns, possibly nothing, to `bytes`. Returns libsane's status. Blocks
// only if the device is in blocking mode.
int Session::State::take_bytes(std::vector<std::uint8_t>& bytes) {
    const size_t before = bytes.size();
    bytes.resize(before + read_size);
    SANE_Int length = 0;
    const SANE_Status status = sane_read(handle, bytes.data() + before, static_cast<SANE_Int>(read_size), &length);
    const bool good = status == SANE_STATUS_GOOD;
    bytes.resize(before + (good ? static_cast<size_t>(std::max(0, length)) : 0));
    return status;
}

int Session::State::read_frame(bool& last_frame) {
    if (const SANE_Status status = sane_start(handle); status != SANE_STATUS_GOOD) {
        push({Arrival::Kind::Failed, {}, {}, status, true});
        return status;
    }
    SANE_Parameters parameters{};
    if (const SANE_Status status = sane_get_parameters(handle, &parameters); status != SANE_STATUS_GOOD) {
        push({Arrival::Kind::Failed, {}, {}, status, true});
        return status;
    }
    started = std::chrono::steady_clock::now();
    last_frame = parameters.last_frame != SANE_FALSE;
    push({Arrival::Kind::Frame, parameters_of(parameters), {}, 0, false});
    // If the device offers a file descriptor to wait on, a stop does not have to wait for the device. Without one,
    // reads are blocking even if the device supports others, because "no data yet" could not be told from the end.
    SANE_Int ready = -1;
    if (sane_get_select_fd(handle, &ready) == SANE_STATUS_GOOD)
        sane_set_io_mode(handle, SANE_TRUE); // Whether or not this is refused, a read after poll() returns data.
    else
        ready = -1;
    const std::int64_t whole = parameters.lines > 0 ? std::int64_t{parameters.lines} * parameters.bytes_per_line : 0;
    std::int64_t taken = 0;
    bool tail_awaited = false;
    std::vector<std::uint8_t> bytes;
    auto shown = std::chrono::steady_clock::now();
    for (;;) {
        if (cancel) return SANE_STATUS_CANCELLED;
        if (ready >= 0) {
            pollfd waiting{ready, POLLIN, 0};
            if (poll(&waiting, 1, 50) == 0) continue;
        }
        // The last bytes of a frame end it at once, and the backend's reader thread, which has just written them, would
        // be cancelled during its clean-up. The remaining bytes fit into its pipe, so it is given a moment to finish.
        if (!tail_awaited && whole > 0 && whole - taken <= pipe_size) {
            tail_awaited = true;
            std::this_thread::sleep_for(tidying_time);
        }
        const size_t had = bytes.size();
        const int status = take_bytes(bytes);
        taken += static_cast<std::int64_t>(bytes.size() - had);
        const auto now = std::chrono::steady_clock::now();
        if (!bytes.empty() &&
            (bytes.size() >= chunk_size || status != SANE_STATUS_GOOD || now - shown > growing_pace)) {
            push({Arrival::Kind::Bytes, {}, std::move(bytes), 0, false});
            bytes = {};
            shown = now;
        }
        if (status == SANE_STATUS_GOOD) continue;
        if (status == SANE_STATUS_EOF)
            push({Arrival::Kind::FrameEnd, {}, {}, 0, false});
        else
            push({Arrival::Kind::Failed, {}, {}, status, false});
        return status;
    }
}

void Session::State::read_all(int pages) {
    int done = 0;
    while (!cancel && (pages == 0 || done < pages)) {
        bool last_frame = true;
        const int status = read_frame(last_frame);
        if (status != SANE_STATUS_EOF) break;
        if (last_frame) ++done;
    }
    // Many backends read on a thread of their own and stop it by cancelling it at any point. A thread that has only
    // just started may be allocating memory, and would leave the lock of the heap held for ever.
    std::this_thread::sleep_until(started + starting_time);
    sane_cancel(handle);
    push({Arrival::Kind::Done, {}, {}, 0, false});
}

Session::Session(std::string device) : state_(std::make_shared<State>()) {
    state_->device = std::move(device);
    std::thread([state = state_] { state->run(); }).detach();
}

Session::~Session() {
    state_->cancel = true;
    std::unique_lock lock(state_->mutex);
    state_->ended = true;
    state_->tasks_changed.notify_all();
    state_->arrivals_changed.notify_all();
    state_->idle.wait_for(lock, std::chrono::seconds(1), [&] { return state_->lost; });
}

bool Session::lost() const {
    const std::scoped_lock lock(state_->mutex);
    return state_->lost;
}

bool Session::call(std::function<void(State&)> task, std::chrono::milliseconds limit) {
    const auto done = std::make_shared<bool>(false);
    std::unique_lock lock(state_->mutex);
    if (state_->lost) return false;
    state_->tasks.push_back([task = std::move(task), done](State& state) {
        task(state);
        const std::scoped_lock inner(state.mutex);
        *done = true;
    });
    state_->tasks_changed.notify_all();
    if (state_->idle.wait_for(lock, limit, [&] { return *done && !state_->busy; })) return true;
    state_->lost = true; // No further call is made to this device.
    return false;
}

int Session::open(std::chrono::milliseconds limit) {
    const auto status = std::make_shared<int>(SANE_STATUS_IO_ERROR);
    call(
        [status](State& state) {
            const std::unique_lock turn(library(), opening_turn);
            *status = turn ? sane_open(state.device.c_str(), &state.handle) : SANE_STATUS_DEVICE_BUSY;
        },
        limit);
    return *status;
}

std::vector<Option> Session::options(std::chrono::milliseconds limit) {
    const auto table = std::make_shared<std::vector<Option>>();
    if (!call([table](State& state) { *table = read_table(state.handle); }, limit)) return {};
    return std::move(*table);
}

int Session::set(const std::string& name, const OptionValue& value, std::chrono::milliseconds limit) {
    const auto status = std::make_shared<int>(SANE_STATUS_IO_ERROR);
    call(
        [status, name, value](State& state) {
            // Setting one option can change all others (SANE_INFO_RELOAD_OPTIONS), so the table is read again each
            // time.
            const std::vector<Option> table = read_table(state.handle);
            const Option* option = find(table, name);
            SANE_Int info = 0;
            *status = option && option->usable() ? set_value(state.handle, *option, value, info) : SANE_STATUS_GOOD;
        },
        limit);
    return *status;
}

std::optional<OptionValue> Session::get(const std::string& name, std::chrono::milliseconds limit) {
    const std::vector<Option> table = options(limit);
    const Option* option = find(table, name);
    return option && option->active ? std::optional(option->value) : std::nullopt;
}

void Session::start_reading(int pages) {
    const std::scoped_lock lock(state_->mutex);
    state_->cancel = false;
    state_->arrivals.clear();
    state_->queued_bytes = 0;
    state_->tasks.push_back([pages](State& state) { state.read_all(pages); });
    state_->tasks_changed.notify_all();
}

std::optional<Arrival> Session::next(std::chrono::milliseconds limit) {
    std::unique_lock lock(state_->mutex);
    if (!state_->arrivals_changed.wait_for(lock, limit, [&] { return !state_->arrivals.empty(); })) return std::nullopt;
    Arrival arrival = std::move(state_->arrivals.front());
    state_->arrivals.pop_front();
    state_->queued_bytes -= arrival.bytes.size();
    state_->arrivals_changed.notify_all();
    return arrival;
}

bool Session::cancel(std::chrono::milliseconds limit) {
    std::unique_lock lock(state_->mutex);
    state_->cancel = true;
    state_->arrivals_changed.notify_all();
    const auto rests = [&] { return !state_->busy && state_->tasks.empty(); };
    if (state_->idle.wait_for(lock, limit * 6 / 10, rests)) return true;
    // The session is blocked in a read. sane_cancel() may be called at any time and from any thread (SANE standard,
    // 4.3.11).
    if (state_->handle) {
        lock.unlock();
        sane_cancel(state_->handle);
        lock.lock();
    }
    if (state_->idle.wait_for(lock, limit * 4 / 10, rests)) return true;
    state_->lost = true;
    return false;
}

}
