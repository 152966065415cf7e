#include "jobs/send_queue.h"

#include "core/tray/set_aside.h"
#include "core/tray/store_lock.h"
#include "core/tray/tray.h"
#include "jobs/trouble.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <utility>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin {

namespace {

constexpr int schema_version = 1;
constexpr const char* schema = R"sql(
    CREATE TABLE IF NOT EXISTS items (id INTEGER PRIMARY KEY AUTOINCREMENT, document TEXT, came_from TEXT, server TEXT, folder TEXT,
        name TEXT, token TEXT, state INTEGER, why TEXT, tries INTEGER, next_try INTEGER, bytes INTEGER, url TEXT,
        delivery INTEGER, attempt INTEGER);
)sql";

using Is = SendItem::Is;

std::chrono::sys_seconds now() { return std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now()); }

std::string password_key(const Server& server) { return server.address + "\n" + server.user; }

template <class Choice>
Choice choice_of(int number, Choice last) {
    return number >= 0 && number <= static_cast<int>(last) ? static_cast<Choice>(number) : Choice{};
}

// The same file under another name where that can be, else a copy that is on disk.
void hold_file(const fs::path& from, const fs::path& to) {
    std::error_code failed;
    fs::create_hard_link(from, to, failed);
    if (!failed) return;
    fs::copy_file(from, to, fs::copy_options::overwrite_existing);
    const int file = ::open(to.c_str(), O_RDONLY | O_CLOEXEC);
    const bool synced = file >= 0 && ::fsync(file) == 0;
    if (file >= 0) ::close(file);
    if (!synced) throw fs::filesystem_error("not on disk", to, std::error_code(errno, std::generic_category()));
}

}

// The list on disk, and the files beside it, by the number of their row.
struct SendQueue::Store {
    fs::path folder;
    StoreLock lock;
    std::unique_ptr<SQLite::Database> database;

    fs::path file_of(long long id) const { return folder / fmt::format("{}.sending", id); }

    void open_database() {
        database = std::make_unique<SQLite::Database>((folder / "sending.sqlite").string(),
                                                      SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, 2000);
        const int version = database->execAndGet("PRAGMA user_version");
        if (version > schema_version) throw std::runtime_error("it was written by a newer Yelvin");
        database->exec("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL;");
        database->exec(schema);
        database->exec(fmt::format("PRAGMA user_version = {}", schema_version));
    }

    void load(std::vector<SendItem>& items, std::map<long long, DeliveryState>& states,
              std::map<long long, std::string>& tokens) {
        SQLite::Statement rows(
            *database, "SELECT id, document, came_from, server, folder, name, token, state, why, tries, next_try, "
                       "bytes, url, delivery, attempt FROM items ORDER BY id");
        while (rows.executeStep()) {
            SendItem item;
            item.id = rows.getColumn(0).getInt64();
            item.document = rows.getColumn(1).getString();
            item.from = rows.getColumn(2).getString();
            item.server = server_from_json(json::parse(rows.getColumn(3).getString()));
            item.folder = json::parse(rows.getColumn(4).getString()).get<RemotePath>();
            item.name = rows.getColumn(5).getString();
            item.is = choice_of(rows.getColumn(7).getInt(), Is::Arrived);
            item.why = rows.getColumn(8).getString();
            item.tries = rows.getColumn(9).getInt();
            item.next_try = std::chrono::sys_seconds(std::chrono::seconds(rows.getColumn(10).getInt64()));
            item.bytes = static_cast<std::uint64_t>(rows.getColumn(11).getInt64());
            item.url = rows.getColumn(12).getString();
            if (item.is == Is::Runs || item.is == Is::WantsPassword) item.is = Is::Waits; // the keyring may have it now
            if (item.is == Is::Waits) item.next_try = {};
            states[item.id] = {choice_of(rows.getColumn(13).getInt(), DeliveryState::At::Putting),
                               rows.getColumn(14).getInt()};
            tokens[item.id] = rows.getColumn(6).getString();
            items.push_back(std::move(item));
        }
    }

    // Of rows that were never committed, or are through.
    void remove_strays(const std::vector<SendItem>& items) const {
        std::set<fs::path> wanted;
        for (const SendItem& each : items)
            if (each.is != Is::Arrived) wanted.insert(file_of(each.id));
        std::error_code failed;
        std::vector<fs::path> strays;
        for (fs::directory_iterator at(folder, failed), end; !failed && at != end; at.increment(failed))
            if (at->path().extension() == ".sending" && !wanted.contains(at->path())) strays.push_back(at->path());
        for (const fs::path& each : strays) fs::remove(each, failed);
    }

    void put(const SendItem& item, const DeliveryState& state) {
        SQLite::Statement row(
            *database, "UPDATE items SET server = ?, folder = ?, state = ?, why = ?, tries = ?, next_try = ?, url = ?, "
                       "delivery = ?, attempt = ? WHERE id = ?");
        row.bind(1, to_json(item.server).dump(-1, ' ', false, json::error_handler_t::replace));
        row.bind(2, json(item.folder).dump(-1, ' ', false, json::error_handler_t::replace));
        row.bind(3, static_cast<int>(item.is));
        row.bind(4, item.why);
        row.bind(5, item.tries);
        row.bind(6, static_cast<int64_t>(item.next_try.time_since_epoch().count()));
        row.bind(7, item.url);
        row.bind(8, static_cast<int>(state.at));
        row.bind(9, state.attempt);
        row.bind(10, static_cast<int64_t>(item.id));
        row.exec();
    }

    long long insert(const SendItem& item, const std::string& token) {
        SQLite::Statement row(
            *database,
            "INSERT INTO items (document, came_from, server, folder, name, token, state, why, tries, next_try, "
            "bytes, url, delivery, attempt) VALUES (?, ?, ?, ?, ?, ?, 0, '', 0, 0, ?, '', 0, 0)");
        row.bind(1, item.document);
        row.bind(2, item.from.string());
        row.bind(3, to_json(item.server).dump(-1, ' ', false, json::error_handler_t::replace));
        row.bind(4, json(item.folder).dump(-1, ' ', false, json::error_handler_t::replace));
        row.bind(5, item.name);
        row.bind(6, token);
        row.bind(7, static_cast<int64_t>(item.bytes));
        row.exec();
        return database->getLastInsertRowid();
    }

    void remove(long long id) {
        SQLite::Statement row(*database, "DELETE FROM items WHERE id = ?");
        row.bind(1, static_cast<int64_t>(id));
        row.exec();
    }
};

Result<std::unique_ptr<SendQueue>> SendQueue::open(const fs::path& folder, const Executors& executors, Tell tell) {
    std::error_code failed;
    fs::create_directories(folder, failed);
    if (failed)
        return fail(ErrorKind::NotWritable, fmt::format("The folder {} for what is to be sent cannot be made: {}.",
                                                        folder.string(), failed.message()));
    fs::permissions(folder, fs::perms::owner_all, failed);
    auto lock = StoreLock::take(folder);
    if (!lock) return std::unexpected(lock.error());
    auto store = std::make_unique<Store>(Store{folder, std::move(*lock), nullptr});
    auto queue = std::unique_ptr<SendQueue>(new SendQueue(executors, std::move(tell), std::move(store)));
    try {
        queue->store_->open_database();
        queue->store_->load(queue->items_, queue->states_, queue->tokens_);
    } catch (const std::exception& what) {
        return fail(ErrorKind::BadInput,
                    fmt::format("The list of what is to be sent in {} cannot be read, so nothing is sent. Move that "
                                "folder away to begin another one.",
                                folder.string()),
                    what.what());
    }
    queue->store_->remove_strays(queue->items_);
    return queue;
}

SendQueue::SendQueue(const Executors& executors, Tell tell, std::unique_ptr<Store> store)
    : executors_(executors), tell_(std::move(tell)), store_(std::move(store)) {}
SendQueue::~SendQueue() = default;

std::chrono::seconds SendQueue::pause_after(int tries) {
    constexpr int pauses[] = {5, 15, 45, 120, 360, 900};
    return std::chrono::seconds(pauses[std::clamp(tries - 1, 0, static_cast<int>(std::size(pauses)) - 1)]);
}

std::vector<SendItem> SendQueue::items() const {
    const std::scoped_lock lock(guard_);
    return items_;
}

std::optional<std::chrono::sys_seconds> SendQueue::next_due() const {
    const std::scoped_lock lock(guard_);
    std::optional<std::chrono::sys_seconds> due;
    for (const SendItem& each : items_)
        if (each.is == Is::Waits) due = std::min(due.value_or(each.next_try), each.next_try);
    return due;
}

SendItem* SendQueue::item(long long id) {
    const auto at = std::ranges::find(items_, id, &SendItem::id);
    return at == items_.end() ? nullptr : &*at;
}

// Under the guard. What cannot be kept is tried again with the next change; the delivery itself looks at its own.
void SendQueue::keep(const SendItem& item) {
    try {
        store_->put(item, states_[item.id]);
    } catch (const std::exception& what) {
        log_trouble(fmt::format("the list of what is to be sent: {}", what.what()));
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

// ---- what comes in and goes out

void SendQueue::put_in(std::vector<ToSend>& files, std::vector<SendItem>& added) {
    const std::scoped_lock lock(guard_);
    SQLite::Transaction transaction(*store_->database, SQLite::TransactionBehavior::IMMEDIATE);
    for (ToSend& each : files) {
        SendItem made;
        made.document = std::move(each.document);
        made.from = each.file;
        made.server = std::move(each.server);
        made.folder = std::move(each.folder);
        made.name = std::move(each.name);
        made.bytes = fs::file_size(each.file);
        const std::string token = new_id();
        made.id = store_->insert(made, token);
        tokens_[made.id] = token;
        states_[made.id] = {};
        added.push_back(made);
        hold_file(each.file, store_->file_of(made.id));
    }
    const int held = ::open(store_->folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (held >= 0) {
        ::fsync(held);
        ::close(held);
    }
    transaction.commit();
    items_.insert(items_.end(), added.begin(), added.end());
}

void SendQueue::add(std::vector<ToSend> files, std::function<void(const Result<void>&)> then) {
    executors_.keeping([this, files = std::move(files), then = std::move(then)]() mutable {
        std::vector<SendItem> added;
        Result<void> done;
        try {
            put_in(files, added);
        } catch (const std::exception& what) {
            std::error_code ignored;
            for (const SendItem& each : added) fs::remove(store_->file_of(each.id), ignored);
            done =
                fail(ErrorKind::NotWritable,
                     fmt::format(
                         "What is to be sent cannot be kept in {}; make room there, then send it again from its tab.",
                         store_->folder.string()),
                     what.what());
        }
        then(done);
        if (!done) return;
        tell_.changed();
        wake();
    });
}

void SendQueue::hold(long long id) {
    executors_.keeping([this, id] {
        change(id, [&](SendItem& each) {
            if (running_ && running_->id == id) running_->stop.request_stop();
            if (each.is != Is::Arrived) each.is = Is::Held, each.why.clear();
        });
    });
}

void SendQueue::again(long long id) {
    executors_.keeping([this, id] {
        change(id, [](SendItem& each) {
            if (each.is == Is::Arrived || each.is == Is::Runs) return;
            each.is = Is::Waits;
            each.tries = 0;
            each.next_try = {};
            each.why.clear();
        });
        wake();
    });
}

void SendQueue::send_elsewhere(long long id, const Server& server, const RemotePath& folder) {
    executors_.keeping([this, id, server, folder] {
        change(id, [&](SendItem& each) {
            if (each.is == Is::Arrived || each.is == Is::Runs) return;
            each.server = server;
            each.folder = folder;
            each.is = Is::Waits;
            each.tries = 0;
            each.next_try = {};
            each.why.clear();
            states_[id] = {};
        });
        wake();
    });
}

void SendQueue::take_out(long long id) {
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
                return log_trouble(fmt::format("the list of what is to be sent: {}", what.what()));
            }
            std::erase_if(items_, [&](const SendItem& each) { return each.id == id; });
            std::error_code ignored;
            fs::remove(store_->file_of(id), ignored);
        }
        tell_.changed();
        const bool began = gone->is == Is::Runs || gone->tries > 0 || gone->is == Is::Held;
        if (!began) return;
        executors_.sending([gone, token, password] { // as far as that can be
            auto remote = connect_to(gone->server, {password, {}}, {});
            RemotePath part = gone->folder;
            part.push_back(part_name(token));
            if (remote) (void)(*remote)->remove(part);
        });
    });
}

void SendQueue::forget_arrived() {
    executors_.keeping([this] {
        {
            const std::scoped_lock lock(guard_);
            try {
                store_->database->exec(
                    fmt::format("DELETE FROM items WHERE state = {}", static_cast<int>(Is::Arrived)));
                std::erase_if(items_, [](const SendItem& each) { return each.is == Is::Arrived; });
            } catch (const std::exception& what) {
                log_trouble(fmt::format("the list of what is to be sent: {}", what.what()));
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
            if (each.is != Is::WantsPassword || password_key(each.server) != password_key(server)) continue;
            each.is = Is::Waits;
            each.next_try = {};
            each.why.clear();
        }
    }
    tell_.changed();
    wake();
}

void SendQueue::trust(const std::string& address, const std::string& fingerprint) {
    executors_.keeping([this, address, fingerprint] {
        {
            const std::scoped_lock lock(guard_);
            for (SendItem& each : items_) {
                if (each.server.address != address || each.is == Is::Arrived) continue;
                each.server.fingerprint = fingerprint;
                if (each.is == Is::Failed && !each.shown.fingerprint.empty())
                    each.is = Is::Waits, each.next_try = {}, each.why.clear();
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
        if (stopped_ || std::exchange(is_sending_, true)) return;
    }
    executors_.sending([this] { send_all(); });
}

void SendQueue::stop() {
    const std::scoped_lock lock(guard_);
    stopped_ = true;
    if (running_) running_->stop.request_stop();
}

// The next that is due, in the order in which they came; nobody sends any more where there is none.
std::optional<long long> SendQueue::take_next() {
    const std::scoped_lock lock(guard_);
    for (SendItem& each : items_) {
        if (stopped_ || each.is != Is::Waits || each.next_try > now()) continue;
        each.is = Is::Runs;
        each.done = 0;
        running_ = Running{each.id, {}};
        return each.id;
    }
    is_sending_ = false;
    return std::nullopt;
}

void SendQueue::send_all() {
    while (const auto id = take_next()) {
        tell_.changed();
        if (auto done = caught("sending a file", [&]() -> Result<void> { return send(*id), Result<void>(); }); !done)
            end(*id, std::unexpected(done.error()), nullptr);
    }
}

void SendQueue::send(long long id) {
    SendItem what;
    DeliveryState state;
    std::string token;
    SignIn sign_in;
    std::stop_token stop;
    {
        const std::scoped_lock lock(guard_);
        what = *item(id);
        state = states_[id];
        token = tokens_[id];
        if (const auto at = passwords_.find(password_key(what.server)); at != passwords_.end())
            sign_in.password = at->second;
        stop = running_->stop.get_token();
    }
    auto remote = connect_to(what.server, sign_in, stop);
    if (!remote) return end(id, std::unexpected(remote.error()), nullptr);
    const auto record = [&](const DeliveryState& is) -> Result<void> {
        const std::scoped_lock lock(guard_);
        states_[id] = is;
        const SendItem* there = item(id);
        if (!there) return stopped(); // taken out meanwhile
        try {
            store_->put(*there, is);
            return {};
        } catch (const std::exception& problem) {
            return fail(ErrorKind::DiskFull,
                        fmt::format("The list of what is to be sent cannot be kept in {}; make room there.",
                                    store_->folder.string()),
                        problem.what());
        }
    };
    const auto progress = [&](std::uint64_t done) {
        if (tell_.progress) tell_.progress(id, done);
    };
    end(id, deliver(**remote, {store_->file_of(id), what.folder, what.name, token}, state, record, progress),
        remote->get());
}

void SendQueue::end(long long id, const Result<Sent>& how, const Remote* remote) {
    {
        const std::scoped_lock lock(guard_);
        running_.reset();
        SendItem* there = item(id);
        if (there && how) {
            there->is = Is::Arrived;
            there->url = how->url;
            there->name = how->name;
            there->done = there->bytes;
            there->why.clear();
        } else if (there && there->is == Is::Runs) { // not held meanwhile
            const ErrorKind kind = how.error().kind;
            const bool later = kind == ErrorKind::Offline || kind == ErrorKind::Busy || kind == ErrorKind::DiskFull ||
                               kind == ErrorKind::Stopped;
            there->is = later ? Is::Waits : kind == ErrorKind::Encrypted ? Is::WantsPassword : Is::Failed;
            there->why = kind == ErrorKind::Stopped ? std::string() : how.error().sentence;
            if (later && kind != ErrorKind::Stopped) {
                std::chrono::seconds pause = pause_after(++there->tries);
                if (remote && remote->retry_after()) pause = std::max(pause, *remote->retry_after());
                there->next_try = now() + pause;
            }
            if (remote && kind == ErrorKind::Untrusted) there->shown = remote->shown();
        }
        if (there) keep(*there);
        std::error_code ignored;
        if (there && there->is == Is::Arrived) fs::remove(store_->file_of(id), ignored);
    }
    tell_.changed();
}

}
