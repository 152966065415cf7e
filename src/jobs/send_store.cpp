#include "jobs/send_store.h"

#include "core/private_files.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <fcntl.h>
#include <linux/fs.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include <cerrno>
#include <set>
#include <utility>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin {

namespace {

using State = SendItem::State;

constexpr int schema_version = 1;
constexpr const char* schema = R"sql(
    CREATE TABLE IF NOT EXISTS items (id INTEGER PRIMARY KEY AUTOINCREMENT, document TEXT, came_from TEXT, server TEXT, folder TEXT,
        name TEXT, token TEXT, state INTEGER, why TEXT, tries INTEGER, next_try INTEGER, bytes INTEGER, url TEXT,
        delivery INTEGER, attempt INTEGER);
)sql";

template <class Choice>
Choice choice_of(int number, Choice last) {
    return number >= 0 && number <= static_cast<int>(last) ? static_cast<Choice>(number) : Choice{};
}

// Replaces bytes that are not UTF-8 instead of throwing.
std::string text_of(const json& value) { return value.dump(-1, ' ', false, json::error_handler_t::replace); }

void sync(const fs::path& path, int flags) {
    const int file = ::open(path.c_str(), flags | O_RDONLY | O_CLOEXEC);
    const bool synced = file >= 0 && ::fsync(file) == 0;
    const int code = errno;
    if (file >= 0) ::close(file);
    if (!synced) throw fs::filesystem_error("not on disk", path, std::error_code(code, std::generic_category()));
}

// Makes `to` share the blocks of `from` if the file system can do that (ioctl_ficlone(2)). A later write into `from`
// does not reach the copy; a hard link would change with it. Returns whether it was done.
bool is_cloned(const fs::path& from, const fs::path& to) {
    const int source = ::open(from.c_str(), O_RDONLY | O_CLOEXEC), target = ::open(to.c_str(), O_WRONLY | O_CLOEXEC);
    const bool cloned = source >= 0 && target >= 0 && ::ioctl(target, FICLONE, source) == 0;
    if (source >= 0) ::close(source);
    if (target >= 0) ::close(target);
    return cloned;
}

SendStore::Row row_in(SQLite::Statement& row) {
    SendItem item;
    item.id = row.getColumn(0).getInt64();
    item.document = row.getColumn(1).getString();
    item.from = row.getColumn(2).getString();
    item.server = server_from_json(json::parse(row.getColumn(3).getString()));
    item.folder = json::parse(row.getColumn(4).getString()).get<RemotePath>();
    item.name = row.getColumn(5).getString();
    item.state = choice_of(row.getColumn(7).getInt(), State::Sent);
    item.why = row.getColumn(8).getString();
    item.tries = row.getColumn(9).getInt();
    item.next_try = std::chrono::sys_seconds(std::chrono::seconds(row.getColumn(10).getInt64()));
    item.bytes = static_cast<std::uint64_t>(row.getColumn(11).getInt64());
    item.url = row.getColumn(12).getString();
    if (item.state == State::Sending || item.state == State::NeedsPassword)
        item.state = State::Waiting; // The keyring may contain the password now.
    if (item.state == State::Waiting) item.next_try = {};
    return {std::move(item),
            row.getColumn(6).getString(),
            {choice_of(row.getColumn(13).getInt(), DeliveryState::Phase::PuttingDirectly), row.getColumn(14).getInt()}};
}

}

SendStore::SendStore(fs::path folder, StoreLock lock) : folder_(std::move(folder)), lock_(std::move(lock)) { open(); }
SendStore::~SendStore() = default;

void SendStore::open() {
    make_private_file(folder_ / "sending.sqlite");
    database_ = std::make_unique<SQLite::Database>((folder_ / "sending.sqlite").string(),
                                                   SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, 2000);
    const int version = database_->execAndGet("PRAGMA user_version");
    if (version > schema_version) throw std::runtime_error("it was written by a newer version of Yelvin");
    database_->exec("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL;");
    database_->exec(schema);
    database_->exec(fmt::format("PRAGMA user_version = {}", schema_version));
}

std::vector<SendStore::Row> SendStore::load() {
    constexpr int arrived_kept = 200;
    database_->exec(fmt::format(
        "DELETE FROM items WHERE state = {0} AND id NOT IN (SELECT id FROM items WHERE state = {0} ORDER BY id "
        "DESC LIMIT {1})",
        static_cast<int>(State::Sent), arrived_kept));
    std::vector<Row> rows;
    SQLite::Statement row(*database_,
                          "SELECT id, document, came_from, server, folder, name, token, state, why, tries, next_try, "
                          "bytes, url, delivery, attempt FROM items ORDER BY id");
    while (row.executeStep()) rows.push_back(row_in(row));
    remove_strays(rows);
    return rows;
}

// Deletes files whose rows were never committed or whose items were sent.
void SendStore::remove_strays(const std::vector<Row>& rows) const {
    std::set<fs::path> wanted;
    for (const Row& each : rows)
        if (each.item.state != State::Sent) wanted.insert(file_of(each.token));
    std::error_code failed;
    std::vector<fs::path> strays;
    for (fs::directory_iterator at(folder_, failed), end; !failed && at != end; at.increment(failed))
        if (at->path().extension() == ".sending" && !wanted.contains(at->path())) strays.push_back(at->path());
    for (const fs::path& each : strays) fs::remove(each, failed);
}

void SendStore::add(std::vector<Row>& rows) {
    sync(folder_, O_DIRECTORY); // makes the names of their files durable
    SQLite::Transaction transaction(*database_, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement insert(
        *database_, "INSERT INTO items (document, came_from, server, folder, name, token, state, why, tries, next_try, "
                    "bytes, url, delivery, attempt) VALUES (?, ?, ?, ?, ?, ?, 0, '', 0, 0, ?, '', 0, 0)");
    for (Row& each : rows) {
        const SendItem& item = each.item;
        insert.reset();
        insert.bind(1, item.document);
        insert.bind(2, item.from.string());
        insert.bind(3, text_of(to_json(item.server)));
        insert.bind(4, text_of(json(item.folder)));
        insert.bind(5, item.name);
        insert.bind(6, each.token);
        insert.bind(7, static_cast<int64_t>(item.bytes));
        insert.exec();
        each.item.id = database_->getLastInsertRowid();
    }
    transaction.commit();
}

void SendStore::put(const SendItem& item, const DeliveryState& state) {
    SQLite::Statement row(
        *database_, "UPDATE items SET server = ?, folder = ?, state = ?, why = ?, tries = ?, next_try = ?, url = ?, "
                    "name = ?, delivery = ?, attempt = ? WHERE id = ?");
    row.bind(1, text_of(to_json(item.server)));
    row.bind(2, text_of(json(item.folder)));
    row.bind(3, static_cast<int>(item.state));
    row.bind(4, item.why);
    row.bind(5, item.tries);
    row.bind(6, static_cast<int64_t>(item.next_try.time_since_epoch().count()));
    row.bind(7, item.url);
    row.bind(8, item.name);
    row.bind(9, static_cast<int>(state.phase));
    row.bind(10, state.attempt);
    row.bind(11, static_cast<int64_t>(item.id));
    row.exec();
}

void SendStore::remove(long long id) {
    SQLite::Statement row(*database_, "DELETE FROM items WHERE id = ?");
    row.bind(1, static_cast<int64_t>(id));
    row.exec();
}

void SendStore::clear_sent() {
    database_->exec(fmt::format("DELETE FROM items WHERE state = {}", static_cast<int>(State::Sent)));
}

fs::path SendStore::file_of(const std::string& token) const { return folder_ / (token + ".sending"); }

void SendStore::store_file(const fs::path& from, const std::string& token) const {
    const fs::path to = file_of(token);
    make_private_file(to);
    if (!is_cloned(from, to)) fs::copy_file(from, to, fs::copy_options::overwrite_existing);
    fs::permissions(to, fs::perms::owner_read | fs::perms::owner_write); // copy_file() copies the source's permissions
    sync(to, 0);
}

void SendStore::delete_file(const std::string& token) const {
    std::error_code ignored;
    fs::remove(file_of(token), ignored);
}

}
