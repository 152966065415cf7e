#include "core/cabinet/cabinet_file.h"

#include "core/cabinet/terms.h"
#include "core/private_files.h"

#include <fmt/format.h>
#include <sqlite3.h>

#include <algorithm>
#include <cstring>
#include <set>

namespace yelvin {

namespace {

// A tokenizer for FTS5. The terms were made before and are separated by spaces.
int tokenize(Fts5Tokenizer*, void* to, int, const char* text, int size,
             int (*token)(void*, int, const char*, int, int, int)) {
    const std::string_view all(text, text ? static_cast<size_t>(size) : 0);
    for (size_t begin = 0; begin < all.size();) {
        const size_t end = std::min(all.find(' ', begin), all.size());
        std::string_view term = all.substr(begin, end - begin);
        const bool beside = term.starts_with('+');
        if (beside) term.remove_prefix(1);
        if (!term.empty()) {
            const int result = token(to, beside ? FTS5_TOKEN_COLOCATED : 0, term.data(), static_cast<int>(term.size()),
                                     static_cast<int>(begin), static_cast<int>(end));
            if (result != SQLITE_OK) return result;
        }
        begin = end + 1;
    }
    return SQLITE_OK;
}

int create_tokenizer(void*, const char**, int, Fts5Tokenizer** out) {
    *out = reinterpret_cast<Fts5Tokenizer*>(1); // The tokenizer has no state; FTS5 needs any pointer that is not null.
    return SQLITE_OK;
}

void register_tokenizer(SQLite::Database& database) {
    fts5_api* api = nullptr;
    sqlite3_stmt* statement = nullptr;
    sqlite3_prepare_v2(database.getHandle(), "SELECT fts5(?1)", -1, &statement, nullptr);
    sqlite3_bind_pointer(statement, 1, static_cast<void*>(&api), "fts5_api_ptr", nullptr);
    sqlite3_step(statement);
    sqlite3_finalize(statement);
    if (!api) throw std::runtime_error("SQLite was built without FTS5");
    fts5_tokenizer ours{create_tokenizer, [](Fts5Tokenizer*) {}, tokenize};
    api->xCreateTokenizer(api, "yelvin", nullptr, &ours, nullptr);
}

constexpr const char* tables = R"(
CREATE TABLE IF NOT EXISTS papers (
  id INTEGER PRIMARY KEY, file TEXT NOT NULL UNIQUE, ticket TEXT NOT NULL, saved INTEGER NOT NULL,
  sender TEXT NOT NULL, kind TEXT NOT NULL, number TEXT NOT NULL, heading TEXT NOT NULL, date TEXT NOT NULL,
  first_page INTEGER NOT NULL, pages INTEGER NOT NULL,
  size INTEGER NOT NULL, changed INTEGER NOT NULL, contents TEXT NOT NULL,
  place INTEGER NOT NULL, words_are INTEGER NOT NULL, taken_from TEXT NOT NULL, document TEXT NOT NULL, revision INTEGER NOT NULL);
CREATE INDEX IF NOT EXISTS papers_by_revision ON papers (revision);
CREATE INDEX IF NOT EXISTS papers_by_contents ON papers (contents);
CREATE TABLE IF NOT EXISTS pages (id INTEGER PRIMARY KEY, dictionary INTEGER NOT NULL, words BLOB NOT NULL);
CREATE TABLE IF NOT EXISTS dictionaries (id INTEGER PRIMARY KEY, text BLOB NOT NULL, places BLOB NOT NULL);
CREATE TABLE IF NOT EXISTS folders (folder TEXT PRIMARY KEY, read_missing INTEGER NOT NULL) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS counters (name TEXT PRIMARY KEY, value INTEGER NOT NULL) WITHOUT ROWID;
INSERT OR IGNORE INTO counters VALUES ('revision', 0), ('taken away', 0), ('last page', 0);
)";

// These tables were added without a new version number: earlier versions ignore them, and they are created when a
// cabinet made by an earlier version is opened.
constexpr const char* places_table = R"(
CREATE TABLE IF NOT EXISTS places (folder TEXT PRIMARY KEY, changed INTEGER NOT NULL) WITHOUT ROWID;
CREATE INDEX IF NOT EXISTS papers_not_here ON papers (id) WHERE place <> 0;
)";

void add_places(SQLite::Database& database) {
    if (database.tableExists("places")) return;
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    database.exec(places_table);
    std::set<std::string> folders;
    SQLite::Statement files(database, "SELECT file FROM papers");
    while (files.executeStep()) folders.insert(std::filesystem::path(files.getColumn(0).getString()).parent_path());
    SQLite::Statement place(database, "INSERT OR IGNORE INTO places VALUES (?, 0)");
    for (const std::string& each : folders) {
        place.bind(1, each);
        place.exec();
        place.reset();
    }
    transaction.commit();
}

// These tables are derived from the words of the pages and can be rebuilt from them.
constexpr const char* index_tables = R"(
CREATE VIRTUAL TABLE IF NOT EXISTS page_words USING fts5(words, content='', columnsize=0, tokenize='yelvin');
CREATE VIRTUAL TABLE IF NOT EXISTS paper_words USING fts5(name, heading, facts, content='', columnsize=0, tokenize='yelvin');
INSERT INTO page_words (page_words, rank) VALUES ('usermerge', 2);
INSERT INTO page_words (page_words, rank) VALUES ('pgsz', 8120); -- two on a page of the file
INSERT INTO page_words (page_words, rank) VALUES ('automerge', 0); -- nobody waits for it: do_upkeep() does
CREATE TABLE IF NOT EXISTS beginnings (beginning TEXT, block INTEGER, pages BLOB NOT NULL, PRIMARY KEY (beginning, block)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS terms (term TEXT, written TEXT, PRIMARY KEY (term, written)) WITHOUT ROWID;
-- `term` empty: the same as its shape.
CREATE TABLE IF NOT EXISTS shapes (shape TEXT, term TEXT, PRIMARY KEY (shape, term)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS backwards (shape TEXT, term TEXT, PRIMARY KEY (shape, term)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS languages (language TEXT PRIMARY KEY) WITHOUT ROWID;
)";

}

std::unique_ptr<SQLite::Database> open_cabinet_file(const std::filesystem::path& file) {
    make_private_file(file);
    auto database =
        std::make_unique<SQLite::Database>(file.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, 10000);
    register_tokenizer(*database);
    database->exec("PRAGMA page_size = 16384");
    database->exec("PRAGMA auto_vacuum = INCREMENTAL"); // of a new file; tend() gives room back
    database->exec("PRAGMA secure_delete = ON"); // words of a paper that leaves the cabinet are gone from the file
    database->exec("PRAGMA journal_mode = WAL");
    database->exec("PRAGMA synchronous = FULL");
    database->exec("PRAGMA cache_size = -24000");
    // do_upkeep() moves the write-ahead log into the file in idle time; at 64 MB any writer does.
    database->exec("PRAGMA wal_autocheckpoint = 4000");
    const int version = database->execAndGet("PRAGMA user_version").getInt();
    if (version > cabinet_version) throw NewerCabinet("the cabinet is of a newer version");
    if (version == cabinet_version) {
        add_places(*database);
        return database;
    }
    SQLite::Transaction transaction(*database, SQLite::TransactionBehavior::IMMEDIATE);
    database->exec(tables);
    database->exec(index_tables);
    database->exec(places_table);
    database->exec(fmt::format("PRAGMA user_version = {}", cabinet_version));
    transaction.commit();
    return database;
}

std::unique_ptr<SQLite::Database> open_cabinet_file_to_read(const std::filesystem::path& file) {
    auto database = std::make_unique<SQLite::Database>(file.string(), SQLite::OPEN_READONLY, 10000);
    register_tokenizer(*database);
    database->exec("PRAGMA cache_size = -24000");
    const int version = database->execAndGet("PRAGMA user_version").getInt();
    if (version > cabinet_version) throw NewerCabinet("the cabinet is of a newer version");
    return database;
}

void recreate_index_tables(SQLite::Database& database) {
    for (const char* table : {"page_words", "paper_words", "beginnings", "terms", "shapes", "backwards", "languages"})
        database.exec(fmt::format("DROP TABLE IF EXISTS {}", table));
    database.exec(index_tables);
}

long long Packers::newest() {
    if (newest_ < 0) newest_ = database_.execAndGet("SELECT IFNULL(MAX(id), 0) FROM dictionaries").getInt64();
    return newest_;
}

WordPacker& Packers::of(long long dictionary) {
    if (const auto at = packers_.find(dictionary); at != packers_.end()) return at->second;
    PackingDictionary known;
    if (dictionary > 0) {
        SQLite::Statement row(database_, "SELECT text, places FROM dictionaries WHERE id = ?");
        row.bind(1, static_cast<int64_t>(dictionary));
        if (row.executeStep()) known = {row.getColumn(0).getString(), row.getColumn(1).getString()};
    }
    return packers_.emplace(dictionary, WordPacker(std::move(known))).first->second;
}

namespace {
// A block is stored as a bitmap or, if that is shorter, as a list of bytes: the distances to the next page, where 255
// means that it is farther. The two are told apart by their size.
constexpr unsigned char farther = 255;
}

PageBlock unpacked_block(std::string_view bytes) {
    PageBlock block{};
    if (bytes.size() == sizeof block) {
        std::memcpy(block.data(), bytes.data(), sizeof block);
        return block;
    }
    unsigned at = 0;
    for (const char each : bytes) {
        const auto step = static_cast<unsigned char>(each);
        at += step;
        if (step == farther) continue;
        if (at < block_pages) block[at / 64] |= 1ULL << at % 64;
        ++at;
    }
    return block;
}

std::string packed_block(const PageBlock& block) {
    std::string steps;
    unsigned next = 0;
    for (unsigned i = 0; i < block_pages; ++i) {
        if ((block[i / 64] >> i % 64 & 1) == 0) continue;
        unsigned step = i - next;
        for (; step >= farther; step -= farther) steps += static_cast<char>(farther);
        steps += static_cast<char>(step);
        next = i + 1;
    }
    if (steps.size() < sizeof block) return steps;
    return {reinterpret_cast<const char*>(block.data()), sizeof block};
}

std::string_view beginning(std::string_view folded, size_t letters) {
    size_t at = 0;
    for (; letters > 0 && at < folded.size(); --letters) {
        ++at;
        while (at < folded.size() && (static_cast<unsigned char>(folded[at]) & 0xC0) == 0x80) ++at;
    }
    return folded.substr(0, at);
}

size_t letters_in(std::string_view utf8) {
    return static_cast<size_t>(
        std::ranges::count_if(utf8, [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }));
}

std::string indexed_text(const std::vector<std::string>& words) {
    std::string text;
    for (const Term& term : terms_of(words)) text += (term.beside ? " +" : " ") + term.folded;
    return text;
}

IndexedPage indexed(const PageWords& page) {
    IndexedPage out;
    for (size_t i = 0; i < page.lines.size(); ++i) {
        std::vector<std::string> words;
        for (const PlacedWord& word : page.lines[i].words) words.push_back(word.text);
        const std::string_view next =
            i + 1 < page.lines.size() ? std::string_view(page.lines[i + 1].words.front().text) : std::string_view();
        for (Term& term : terms_of(words, next)) {
            out.text += (term.beside ? " +" : " ") + term.folded;
            if (letters_in(term.folded) >= shortest_beginning)
                out.beginnings.emplace(beginning(term.folded, longest_beginning));
            out.terms.emplace(std::move(term.folded), std::move(term.accented));
        }
        if (!page.lines[i].language.empty()) out.languages.insert(page.lines[i].language);
    }
    return out;
}

IndexChange::IndexChange(SQLite::Database& database, Indexing which)
    : database_(database), which_(which),
      page_(database, which == Indexing::In
                          ? "INSERT INTO page_words (rowid, words) VALUES (?1, ?2)"
                          : "INSERT INTO page_words (page_words, rowid, words) VALUES ('delete', ?1, ?2)"),
      paper_(
          database,
          which == Indexing::In
              ? "INSERT INTO paper_words (rowid, name, heading, facts) VALUES (?1, ?2, ?3, ?4)"
              : "INSERT INTO paper_words (paper_words, rowid, name, heading, facts) VALUES ('delete', ?1, ?2, ?3, ?4)"),
      term_(database, "INSERT OR IGNORE INTO terms VALUES (?, ?)"),
      shape_(database, "INSERT OR IGNORE INTO shapes VALUES (?, ?)"),
      backwards_(database, "INSERT OR IGNORE INTO backwards VALUES (?, ?)"),
      language_(database, "INSERT OR IGNORE INTO languages VALUES (?)") {}

namespace {
void run(SQLite::Statement& statement, std::string_view first, std::string_view second) {
    statement.bind(1, std::string(first));
    statement.bind(2, std::string(second));
    statement.exec();
    statement.reset();
}
}

void rebuild_shapes(SQLite::Database& database) {
    database.exec("DELETE FROM shapes; DELETE FROM backwards");
    SQLite::Statement shapes(database, "INSERT OR IGNORE INTO shapes VALUES (?, ?)"),
        backward(database, "INSERT OR IGNORE INTO backwards VALUES (?, ?)"),
        terms(database, "SELECT DISTINCT term FROM terms");
    while (terms.executeStep()) {
        const std::string term = terms.getColumn(0).getString(), shape = shape_of(term);
        run(shapes, shape, shape == term ? std::string() : term);
        run(backward, backwards(shape), shape == term ? std::string() : term);
    }
}

void IndexChange::page(long long id, const IndexedPage& page) {
    page_.bind(1, static_cast<int64_t>(id));
    page_.bind(2, page.text);
    page_.exec();
    page_.reset();
    for (const std::string& each : page.beginnings)
        beginnings_[{each, id / block_pages}].push_back(static_cast<unsigned>(id % block_pages));
    if (which_ == Indexing::Out) return; // A term that no document has any more is harmless.
    for (const auto& [term, accented] : page.terms) {
        if (!known_.emplace(term, accented).second) continue;
        run(term_, term, accented);
        if (sqlite3_changes(database_.getHandle()) == 0) continue; // The term was in the table already.
        const std::string shape = shape_of(term);
        run(shape_, shape, shape == term ? std::string() : term);
        run(backwards_, backwards(shape), shape == term ? std::string() : term);
    }
    for (const std::string& each : page.languages) {
        language_.bind(1, each);
        language_.exec();
        language_.reset();
    }
}

void IndexChange::paper(long long id, const std::array<std::string, 3>& texts) {
    paper_.bind(1, static_cast<int64_t>(id));
    for (int i = 0; i < 3; ++i) paper_.bind(i + 2, texts[static_cast<size_t>(i)]);
    paper_.exec();
    paper_.reset();
}

void IndexChange::finish() {
    SQLite::Statement read(database_, "SELECT pages FROM beginnings WHERE beginning = ? AND block = ?");
    SQLite::Statement write(database_, "INSERT OR REPLACE INTO beginnings VALUES (?, ?, ?)");
    SQLite::Statement gone(database_, "DELETE FROM beginnings WHERE beginning = ? AND block = ?");
    for (const auto& [key, places] : beginnings_) {
        PageBlock block{};
        read.bind(1, key.first);
        read.bind(2, static_cast<int64_t>(key.second));
        if (read.executeStep()) {
            const SQLite::Column column = read.getColumn(0);
            block =
                unpacked_block({static_cast<const char*>(column.getBlob()), static_cast<size_t>(column.getBytes())});
        }
        read.reset();
        for (const unsigned at : places) {
            if (which_ == Indexing::In)
                block[at / 64] |= 1ULL << at % 64;
            else
                block[at / 64] &= ~(1ULL << at % 64);
        }
        const std::string bytes = packed_block(block);
        if (bytes.empty()) { // No document has this prefix any more, so its row is deleted.
            gone.bind(1, key.first);
            gone.bind(2, static_cast<int64_t>(key.second));
            gone.exec();
            gone.reset();
            continue;
        }
        write.bind(1, key.first);
        write.bind(2, static_cast<int64_t>(key.second));
        write.bind(3, bytes.data(), static_cast<int>(bytes.size()));
        write.exec();
        write.reset();
    }
    beginnings_.clear();
}

}
