#include "core/tray/tray_store.h"

#include "core/developing/recipe_json.h"
#include "core/json_text.h"
#include "core/private_files.h"
#include "core/storage/set_aside.h"

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <sqlite3.h>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin {

namespace {

constexpr int schema_version = 6;
constexpr const char* schema = R"sql(
    CREATE TABLE IF NOT EXISTS documents (id TEXT PRIMARY KEY, place INTEGER, name TEXT, saved_as TEXT, barcode TEXT,
        part_of TEXT DEFAULT '', in_file INTEGER DEFAULT 0, folder TEXT DEFAULT '', ticket TEXT DEFAULT '');
    CREATE TABLE IF NOT EXISTS pages (id TEXT PRIMARY KEY, document TEXT, place INTEGER, data TEXT);
    CREATE TABLE IF NOT EXISTS states (id INTEGER PRIMARY KEY, page TEXT, data TEXT);
    CREATE TABLE IF NOT EXISTS steps (side INTEGER, place INTEGER, name TEXT, documents TEXT);
    CREATE TABLE IF NOT EXISTS readings (page TEXT, languages TEXT, recipe TEXT, layer TEXT, PRIMARY KEY (page, languages));
    CREATE TABLE IF NOT EXISTS going (file TEXT PRIMARY KEY);
    CREATE TABLE IF NOT EXISTS kept (id TEXT PRIMARY KEY, name TEXT, saved_as TEXT, barcode TEXT, folder TEXT, left_at INTEGER,
        bytes INTEGER, ticket TEXT DEFAULT '');
    CREATE TABLE IF NOT EXISTS tickets (id TEXT PRIMARY KEY, data TEXT);
    CREATE TABLE IF NOT EXISTS kept_pages (document TEXT, place INTEGER, id TEXT, data TEXT, PRIMARY KEY (document, place));
)sql";

// Only this process opens the store, but another of its connections may be reading texts.
constexpr int busy_ms = 2000;

bool has_column(SQLite::Database& database, const std::string& table, const std::string& column) {
    SQLite::Statement columns(database, fmt::format("SELECT 1 FROM pragma_table_info('{}') WHERE name = ?", table));
    columns.bind(1, column);
    return columns.executeStep();
}

}

TrayStore::TrayStore() = default;
TrayStore::TrayStore(TrayStore&&) noexcept = default;
TrayStore& TrayStore::operator=(TrayStore&&) noexcept = default;
TrayStore::~TrayStore() = default;

std::unexpected<Error> TrayStore::failed(const std::exception& what) const {
    const auto* of_database = dynamic_cast<const SQLite::Exception*>(&what);
    const bool full = of_database && of_database->getErrorCode() == SQLITE_FULL;
    return fail(full ? ErrorKind::DiskFull : ErrorKind::NotWritable,
                fmt::format("The out tray could not be saved in {}: {}. Make room or check the folder; the scanned "
                            "pages are still there.",
                            folder_.string(), full ? "the disk is full" : what.what()));
}

Result<TrayStore> TrayStore::open(const fs::path& folder, FileSteps& steps) {
    TrayStore store;
    store.folder_ = folder;
    store.steps_ = &steps;
    if (const std::error_code failure = make_private_folder(folder))
        return fail(ErrorKind::NotWritable, fmt::format("The folder {} for scanned pages cannot be created: {}.",
                                                        folder.string(), failure.message()));
    if (auto connected = store.connect(); !connected) return std::unexpected(connected.error());
    return store;
}

Result<TrayStore> TrayStore::open_afresh(const fs::path& folder, FileSteps& steps) {
    TrayStore store;
    store.folder_ = folder;
    store.steps_ = &steps;
    if (auto aside = store.set_database_aside(true); !aside) return std::unexpected(aside.error());
    if (auto connected = store.connect(); !connected) return std::unexpected(connected.error());
    return store;
}

Result<void> TrayStore::connect() {
    make_private_file(folder_ / "tray.sqlite");
    try {
        // If SQLite cannot open a file for writing, it opens it read-only. The disk may have failed once: try again.
        for (int tries = 0; tries < 2 && (!database_ || sqlite3_db_readonly(database_->getHandle(), "main") == 1);
             ++tries)
            database_ = std::make_unique<SQLite::Database>((folder_ / "tray.sqlite").string(),
                                                           SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, busy_ms);
        const int version = database_->execAndGet("PRAGMA user_version");
        if (version > schema_version)
            return fail(ErrorKind::Unsupported, fmt::format("The out tray in {} was saved by a newer version of "
                                                            "Yelvin. It was not changed; open it with that version.",
                                                            folder_.string()));
        database_->exec("PRAGMA journal_mode = WAL");
        // With synchronous = FULL a commit is on disk when it returns; files are deleted only afterwards.
        database_->exec("PRAGMA synchronous = FULL");
        if (version == schema_version) return {};
        SQLite::Transaction made(*database_);
        database_->exec(schema);
        if (!has_column(*database_, "documents", "barcode")) // a tray kept before documents had any
            database_->exec("ALTER TABLE documents ADD COLUMN barcode TEXT DEFAULT ''");
        if (!has_column(*database_, "documents", "part_of")) // … or grew behind a file that was saved
            database_->exec(
                "ALTER TABLE documents ADD COLUMN part_of TEXT DEFAULT ''; ALTER TABLE documents ADD COLUMN "
                "in_file INTEGER DEFAULT 0");
        if (!has_column(*database_, "documents", "folder")) // … or had a folder of its own
            database_->exec("ALTER TABLE documents ADD COLUMN folder TEXT DEFAULT ''");
        for (const char* table : {"documents", "kept"}) // … or kept its ticket
            if (!has_column(*database_, table, "ticket"))
                database_->exec(fmt::format("ALTER TABLE {} ADD COLUMN ticket TEXT DEFAULT ''", table));
        // In older versions there was one reading for each page, whatever its languages.
        if (has_column(*database_, "texts", "layer"))
            database_->exec("INSERT OR IGNORE INTO readings SELECT page, languages, recipe, layer FROM texts; DROP "
                            "TABLE texts");
        database_->exec(fmt::format("PRAGMA user_version = {}", schema_version));
        made.commit();
        return {};
    } catch (const SQLite::Exception& failure) {
        database_.reset();
        const int code = failure.getErrorCode();
        if (code == SQLITE_NOTADB || code == SQLITE_CORRUPT || code == SQLITE_ERROR)
            return fail(
                ErrorKind::BadInput,
                fmt::format("The list of the out tray in {} is damaged and cannot be opened.", folder_.string()),
                failure.what());
        return fail(code == SQLITE_FULL ? ErrorKind::DiskFull : ErrorKind::NotWritable,
                    fmt::format("The out tray in {} cannot be opened: {}. It was not changed; check the disk and your "
                                "permission for the folder.",
                                folder_.string(), code == SQLITE_FULL ? "the disk is full" : failure.what()));
    }
}

Result<fs::path> TrayStore::set_aside_folder() {
    if (!set_aside_.empty()) return set_aside_;
    auto made = new_set_aside_folder(folder_);
    if (made) set_aside_ = *made;
    return made;
}

// Copies the database by SQLite's backup API. Copying the file would open it a second time, and closing that descriptor
// would release the locks that this process has on it (sqlite.org, "How To Corrupt An SQLite Database File", 2.2).
bool TrayStore::is_copied_beside(const fs::path& into) {
    const fs::path copy = into / "tray.sqlite";
    try {
        make_private_file(copy);
        SQLite::Database to(copy.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, busy_ms);
        SQLite::Backup(to, *database_).executeStep(-1);
        return true;
    } catch (const std::exception&) { // The database is too damaged to be copied.
        std::error_code ignored;
        fs::remove(copy, ignored);
        return false;
    }
}

Result<void> TrayStore::set_database_aside(bool move) {
    const auto into = set_aside_folder();
    if (!into) return std::unexpected(into.error());
    if (move) {
        database_.reset(); // closing takes what is in the log into the file
        states_.clear();
        written_.reset();
        afresh_ = true;
    } else if (database_ && is_copied_beside(*into)) {
        return {};
    }
    for (const char* file : {"tray.sqlite", "tray.sqlite-wal", "tray.sqlite-shm"}) {
        const auto done =
            move ? move_aside(folder_ / file, *into, *steps_) : copy_aside(folder_ / file, *into, *steps_);
        if (!done) return done;
    }
    return {};
}

Result<void> TrayStore::keep_ticket(const std::string& id, const TicketInUse& ticket) {
    try {
        SQLite::Statement row(*database_, "INSERT OR REPLACE INTO tickets VALUES (?, ?)");
        row.bind(1, id);
        row.bind(2, to_json(ticket).dump(-1, ' ', false, json::error_handler_t::replace));
        row.exec();
        return {};
    } catch (const std::exception& failure) {
        return failed(failure);
    }
}

// ---- texts

Result<void> TrayStore::keep_text(const std::string& page_id, const Recipe& read_as, const std::string& languages,
                                  const TextLayer& layer) {
    try {
        SQLite::Statement row(*database_, "INSERT OR REPLACE INTO readings VALUES (?, ?, ?, ?)");
        row.bind(1, page_id);
        row.bind(2, languages);
        row.bind(3, to_json(read_as).dump());
        row.bind(4, to_json(layer).dump(-1, ' ', false, json::error_handler_t::replace));
        row.exec();
        return {};
    } catch (const std::exception& failure) {
        return failed(failure);
    }
}

namespace {

// A damaged text counts as missing: the page is read again when its text is needed.
std::optional<TrayStore::KeptText> reading_in(const SQLite::Column& recipe, const SQLite::Column& layer) {
    try {
        const auto how = json_from_text(recipe.getString()), what = json_from_text(layer.getString());
        if (how && what) return TrayStore::KeptText{recipe_from_json(*how), text_layer_from_json(*what)};
    } catch (const std::exception&) {
    }
    return std::nullopt;
}

}

std::optional<TrayStore::KeptText> TrayStore::text(const std::string& page_id, const std::string& languages) {
    try {
        SQLite::Statement row(*database_, "SELECT recipe, layer FROM readings WHERE page = ? AND languages = ?");
        row.bind(1, page_id);
        row.bind(2, languages);
        if (row.executeStep()) return reading_in(row.getColumn(0), row.getColumn(1));
    } catch (const std::exception&) {
    }
    return std::nullopt;
}

std::vector<TrayStore::ReadPage> TrayStore::read_pages() {
    std::vector<ReadPage> pages;
    try {
        SQLite::Statement rows(*database_, "SELECT page, languages, recipe, layer FROM readings");
        while (rows.executeStep()) {
            if (const auto reading = reading_in(rows.getColumn(2), rows.getColumn(3)))
                pages.push_back({rows.getColumn(0).getString(), rows.getColumn(1).getString(),
                                 read_as(reading->read_as, reading->layer)});
        }
    } catch (const std::exception&) {
    }
    return pages;
}

}
