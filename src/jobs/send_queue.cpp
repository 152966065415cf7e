#include "jobs/send_queue.h"

#include "core/private_files.h"
#include "core/storage/new_id.h"
#include "jobs/send_store.h"
#include "jobs/trouble.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

using State = SendItem::State;

std::chrono::sys_seconds now() { return std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now()); }

std::string password_key(const Server& server) { return server.address + "\n" + server.user; }

}

Result<std::unique_ptr<SendQueue>> SendQueue::open(const fs::path& folder, const Executors& executors, Tell tell) {
    if (const std::error_code failed = make_private_folder(folder))
        return fail(ErrorKind::NotWritable, fmt::format("The folder {} for files to send cannot be created: {}.",
                                                        folder.string(), failed.message()));
    auto lock = StoreLock::take(folder);
    if (!lock) return std::unexpected(lock.error());
    try {
        auto store = std::make_unique<SendStore>(folder, std::move(*lock));
        const std::vector<SendStore::Row> rows = store->load();
        auto queue = std::unique_ptr<SendQueue>(new SendQueue(executors, std::move(tell), std::move(store)));
        for (const SendStore::Row& each : rows) queue->know(each.item, each.token, each.state);
        return queue;
    } catch (const std::exception& what) {
        return fail(ErrorKind::BadInput,
                    fmt::format("The list of files to send in {} cannot be read, so nothing is sent. Move that folder "
                                "away to start a new list.",
                                folder.string()),
                    what.what());
    }
}

void SendQueue::know(const SendItem& item, const std::string& token, const DeliveryState& state) {
    states_[item.id] = state;
    tokens_[item.id] = token;
    items_.push_back(item);
}

SendQueue::SendQueue(const Executors& executors, Tell tell, std::unique_ptr<SendStore> store)
    : executors_(executors), tell_(std::move(tell)), store_(std::move(store)) {}
SendQueue::~SendQueue() = default;

std::vector<SendItem> SendQueue::items() const {
    const std::scoped_lock lock(guard_);
    return items_;
}

std::optional<std::chrono::sys_seconds> SendQueue::next_due() const {
    const std::scoped_lock lock(guard_);
    std::optional<std::chrono::sys_seconds> due;
    for (const SendItem& each : items_)
        if (each.state == State::Waiting) due = std::min(due.value_or(each.next_try), each.next_try);
    return due;
}

SendItem* SendQueue::item(long long id) {
    const auto at = std::ranges::find(items_, id, &SendItem::id);
    return at == items_.end() ? nullptr : &*at;
}

// Stores the item; the caller holds the guard. If that fails, the next change stores it. deliver() checks its own
// record in send().
bool SendQueue::keep(const SendItem& item) {
    try {
        store_->put(item, states_[item.id]);
        return true;
    } catch (const std::exception& what) {
        log_trouble(fmt::format("the list of files to send: {}", what.what()));
        return false;
    }
}

void SendQueue::change(long long id, const std::function<void(SendItem&)>& how) {
    {
        const std::scoped_lock lock(guard_);
        SendItem* there = item(id);
        if (!there) return;
        how(*there);
        keep(*there);
    }
    tell_.changed();
}

// ---- adding and removing

void SendQueue::add(std::vector<ToSend> files, std::function<void(const Result<void>&)> then) {
    executors_.keeping([this, files = std::move(files), then = std::move(then)]() mutable {
        std::vector<SendStore::Row> rows;
        Result<void> done;
        try {
            for (ToSend& each : files) {
                SendItem made;
                made.document = std::move(each.document);
                made.from = each.file;
                made.server = std::move(each.server);
                made.folder = std::move(each.folder);
                made.name = std::move(each.name);
                made.bytes = fs::file_size(each.file);
                rows.push_back({std::move(made), new_id()});
                store_->store_file(each.file, rows.back().token);
            }
            const std::scoped_lock lock(guard_);
            store_->add(rows);
            for (const SendStore::Row& each : rows) know(each.item, each.token, each.state);
        } catch (const std::exception& what) {
            for (const SendStore::Row& each : rows) store_->delete_file(each.token);
            done = fail(
                ErrorKind::NotWritable,
                fmt::format(
                    "Files to send cannot be stored in {}; make room there, then send again from the document's tab.",
                    store_->folder().string()),
                what.what());
        }
        then(done);
        if (!done) return;
        tell_.changed();
        wake();
    });
}

void SendQueue::pause(long long id) {
    executors_.keeping([this, id] {
        change(id, [&](SendItem& each) {
            if (running_ && running_->id == id) running_->stop.request_stop();
            if (each.state != State::Sent) each.state = State::Paused, each.why.clear();
        });
    });
}

void SendQueue::retry(long long id) {
    executors_.keeping([this, id] {
        change(id, [](SendItem& each) {
            if (each.state == State::Sent || each.state == State::Sending) return;
            each.start_again();
        });
        wake();
    });
}

void SendQueue::send_elsewhere(long long id, const Server& server, const RemotePath& folder) {
    executors_.keeping([this, id, server, folder] {
        change(id, [&](SendItem& each) {
            if (each.state == State::Sent || each.state == State::Sending) return;
            each.server = server;
            each.folder = folder;
            each.start_again();
            states_[id] = {};
        });
        wake();
    });
}

void SendQueue::remove(long long id) {
    executors_.keeping([this, id] {
        std::optional<SendItem> gone;
        std::string token;
        Secret password;
        {
            const std::scoped_lock lock(guard_);
            const SendItem* there = item(id);
            if (!there) return;
            if (running_ && running_->id == id) running_->stop.request_stop();
            gone = *there;
            token = tokens_[id];
            password = passwords_[password_key(there->server)];
            try {
                store_->remove(id);
            } catch (const std::exception& what) {
                return log_trouble(fmt::format("the list of files to send: {}", what.what()));
            }
            std::erase_if(items_, [&](const SendItem& each) { return each.id == id; });
            store_->delete_file(token);
        }
        tell_.changed();
        const bool began = gone->state == State::Sending || gone->tries > 0 || gone->state == State::Paused;
        if (!began) return;
        executors_.sending(
            [gone, token, password, stop = stopped_.get_token()] { // errors are ignored: the server may be away
                auto remote = connect_to(gone->server, {password, {}}, stop);
                RemotePath part = gone->folder;
                part.push_back(part_name(token));
                if (remote) (void)(*remote)->remove(part);
            });
    });
}

void SendQueue::clear_sent() {
    executors_.keeping([this] {
        {
            const std::scoped_lock lock(guard_);
            try {
                store_->clear_sent();
                std::erase_if(items_, [](const SendItem& each) { return each.state == State::Sent; });
            } catch (const std::exception& what) {
                log_trouble(fmt::format("the list of files to send: {}", what.what()));
            }
        }
        tell_.changed();
    });
}

void SendQueue::give_password(const Server& server, const Secret& password) {
    {
        const std::scoped_lock lock(guard_);
        passwords_[password_key(server)] = password;
        for (SendItem& each : items_) {
            if (each.state != State::NeedsPassword || password_key(each.server) != password_key(server)) continue;
            each.state = State::Waiting;
            each.next_try = {};
            each.why.clear();
        }
    }
    tell_.changed();
    wake();
}

void SendQueue::trust(const std::string& address, const Remote::Identity& identity) {
    executors_.keeping([this, address, identity] {
        {
            const std::scoped_lock lock(guard_);
            for (SendItem& each : items_) {
                if (each.server.address != address || each.state == State::Sent) continue;
                if (!identity.fingerprint.empty()) each.server.fingerprint = identity.fingerprint;
                if (identity.wants_plain_password) each.server.plain_password = true;
                if (each.state == State::Failed &&
                    (!each.identity.fingerprint.empty() || each.identity.wants_plain_password))
                    each.state = State::Waiting, each.next_try = {}, each.why.clear();
                keep(each);
            }
        }
        tell_.changed();
        wake();
    });
}

// ---- sending

void SendQueue::wake() {
    {
        const std::scoped_lock lock(guard_);
        if (stopped_.stop_requested() || std::exchange(is_sending_, true)) return;
    }
    executors_.sending([this] { send_all(); });
}

void SendQueue::stop() {
    const std::scoped_lock lock(guard_);
    stopped_.request_stop();
    if (running_) running_->stop.request_stop();
}

// Returns the oldest item that is due and marks it as being sent. Ends the sending task if there is none.
std::optional<long long> SendQueue::take_next() {
    const std::scoped_lock lock(guard_);
    for (SendItem& each : items_) {
        if (stopped_.stop_requested() || each.state != State::Waiting || each.next_try > now()) continue;
        each.state = State::Sending;
        each.done = 0;
        running_ = Running{each.id, {}};
        return each.id;
    }
    is_sending_ = false;
    return std::nullopt;
}

// Stays open from one file to the next. After a failed delivery, a new one is made.
struct SendQueue::Connection {
    Server server;
    SignIn sign_in;
    std::stop_source stop;
    std::unique_ptr<Remote> remote = {};
};

void SendQueue::send_all() {
    std::unique_ptr<Connection> open;
    while (const auto id = take_next()) {
        tell_.changed();
        if (auto done = caught("sending a file", [&]() -> Result<void> { return send(*id, open), Result<void>(); });
            !done)
            end(*id, std::unexpected(done.error()), nullptr);
    }
}

void SendQueue::send(long long id, std::unique_ptr<Connection>& open) {
    SendItem what;
    DeliveryState state;
    std::string token;
    SignIn sign_in;
    {
        const std::scoped_lock lock(guard_);
        const SendItem* there = item(id);
        if (!there) return running_.reset(); // It was removed just now.
        what = *there;
        state = states_[id];
        token = tokens_[id];
        if (const auto at = passwords_.find(password_key(what.server)); at != passwords_.end())
            sign_in.password = at->second;
        const bool fits = open && open->server == what.server && open->sign_in.password == sign_in.password &&
                          !open->stop.stop_requested() && !running_->stop.stop_requested();
        if (!fits) open = std::make_unique<Connection>(Connection{what.server, sign_in, running_->stop});
        running_->stop = open->stop;
    }
    if (!open->remote) {
        auto remote = connect_to(what.server, sign_in, open->stop.get_token());
        if (!remote) return end(id, std::unexpected(remote.error()), nullptr);
        open->remote = std::move(*remote);
    }
    const auto record = [&](const DeliveryState& is) -> Result<void> {
        const std::scoped_lock lock(guard_);
        states_[id] = is;
        const SendItem* there = item(id);
        if (!there) return stopped(); // It was removed meanwhile.
        try {
            store_->put(*there, is);
            return {};
        } catch (const std::exception& problem) {
            return fail(ErrorKind::DiskFull,
                        fmt::format("The list of files to send cannot be stored in {}; make room there.",
                                    store_->folder().string()),
                        problem.what());
        }
    };
    const auto progress = [&](std::uint64_t done) {
        if (tell_.progress) tell_.progress(id, done);
    };
    const auto sent =
        deliver(*open->remote, {store_->file_of(token), what.folder, what.name, token}, state, record, progress);
    end(id, sent, open->remote.get());
    if (!sent) open.reset();
}

void SendQueue::end(long long id, const Result<Sent>& how, const Remote* remote) {
    {
        const std::scoped_lock lock(guard_);
        running_.reset();
        SendItem* there = item(id);
        if (there) there->end_attempt(how, remote, now());
        // If that could not be stored, the next start asks the server, and needs the file to compare.
        if (there && keep(*there) && there->state == State::Sent) store_->delete_file(tokens_[id]);
    }
    tell_.changed();
}

}
