// Opening the cabinet, and its upkeep in idle time. Damaged cabinets are handled in cabinet_rebuild.cpp.
#include "core/cabinet/cabinet_inside.h"
#include "core/private_files.h"

#include <fmt/format.h>
#include <glib.h>
#include <sqlite3.h>
#include <sys/stat.h>

#include <cerrno>
#include <cstring>
#include <fstream>

namespace fs = std::filesystem;

namespace yelvin {

void try_out_cabinet(SQLite::Database& database) {
    database.execAndGet("SELECT COUNT(*) FROM counters");
    database.execAndGet("SELECT IFNULL(MAX(id), 0) FROM papers");
    SQLite::Statement(database, "SELECT rowid FROM page_words WHERE page_words MATCH '\"yelvin\"'").executeStep();
    SQLite::Statement(database, "SELECT rowid FROM paper_words WHERE paper_words MATCH '\"yelvin\"'").executeStep();
}

Result<Cabinet> Cabinet::open(const fs::path& folder) {
    if (const std::error_code failed = make_private_folder(folder))
        return fail(ErrorKind::NotWritable, fmt::format("The cabinet's folder {} could not be created ({}).",
                                                        folder.string(), failed.message()));
    Cabinet cabinet(folder);
    auto lock = CabinetLock::take(folder);
    if (!lock) return std::unexpected(lock.error());
    cabinet.lock_ = std::move(*lock);
    try {
        auto database = open_cabinet_file(folder / cabinet_file_name);
        try_out_cabinet(*database);
        cabinet.inside_ = std::make_unique<Inside>(std::move(database));
        return cabinet;
    } catch (const std::exception& what) {
        if (!means_damaged(what)) return cabinet_trouble(what);
    }
    if (auto anew = cabinet.rebuild(); !anew) return std::unexpected(anew.error());
    return cabinet;
}

Result<bool> Cabinet::do_upkeep() {
    constexpr int samples = 1000, fewest = 300, at_once = 1000, given_back_at_once = 200;
    SQLite::Database& database = *inside_->database;
    const auto more = inside_->changed([&]() -> bool {
        (void)inside_->packers.of(
            inside_->packers.newest()); // Preparing a dictionary takes 80 ms, which should not delay adding a document.
        const std::int64_t pages = database.execAndGet("SELECT COUNT(*) FROM pages").getInt64();
        if (inside_->packers.newest() == 0 && pages >= fewest) {
            std::vector<PageWords> pages_seen;
            SQLite::Statement rows(database, "SELECT words FROM pages WHERE dictionary = 0 AND id % ? = 0 LIMIT ?");
            rows.bind(1, std::max<std::int64_t>(1, pages / samples));
            rows.bind(2, samples);
            while (rows.executeStep()) {
                const SQLite::Column blob = rows.getColumn(0);
                if (auto words = inside_->packers.of(0).unpacked(
                        {static_cast<const char*>(blob.getBlob()), static_cast<size_t>(blob.getBytes())}))
                    pages_seen.push_back(std::move(*words));
            }
            if (const PackingDictionary made = trained_dictionary(pages_seen); !made.empty()) {
                SQLite::Statement row(database, "INSERT INTO dictionaries (text, places) VALUES (?, ?)");
                row.bind(1, made.text.data(), static_cast<int>(made.text.size()));
                row.bind(2, made.places.data(), static_cast<int>(made.places.size()));
                row.exec();
                inside_->packers.look_again();
            }
        }
        return inside_->pack_again(at_once) == at_once;
    });
    if (!more) return std::unexpected(more.error());
    const auto merging = inside_->changed([&]() -> bool {
        const auto before = sqlite3_total_changes(database.getHandle());
        database.exec("INSERT INTO page_words (page_words, rank) VALUES ('merge', 800)");
        // The criterion of FTS5's manual for a complete merge.
        const bool merged = sqlite3_total_changes(database.getHandle()) - before < 2;
        const int free = database.execAndGet("PRAGMA freelist_count").getInt();
        if (merged && !*more) database.exec(fmt::format("PRAGMA incremental_vacuum({})", given_back_at_once));
        return *more || !merged || free > given_back_at_once;
    });
    if (!merging) return merging;
    if (!*merging) {
        auto purging = inside_->changed([&]() -> bool { return inside_->purge(); });
        if (!purging || *purging) return purging;
    }
    return inside_->asked([&] {
        database.exec("PRAGMA wal_checkpoint(PASSIVE)");
        return *merging;
    });
}

// Words of removed documents remain in older FTS5 segments and in the table of terms. Each call removes a part of them.
// Returns true if there is more to do.
bool Cabinet::Inside::purge() {
    SQLite::Database& index = *database;
    const auto counter = [&](const char* name) {
        SQLite::Statement row(index, "SELECT IFNULL((SELECT value FROM counters WHERE name = ?), 0)");
        row.bind(1, name);
        row.executeStep();
        return row.getColumn(0).getInt64();
    };
    const std::int64_t taken_away = counter("taken away");
    if (counter("purged") == taken_away) return false;
    constexpr int at_once = 2000;
    // A negative number merges all segments, one part per call (FTS5 documentation, section 6.9).
    const auto before = sqlite3_total_changes(index.getHandle());
    index.exec(fmt::format("INSERT INTO page_words (page_words, rank) VALUES ('merge', {})", -at_once));
    if (sqlite3_total_changes(index.getHandle()) - before >= 2) return true;
    index.exec("INSERT INTO paper_words (paper_words) VALUES ('optimize')");
    index.exec("CREATE VIRTUAL TABLE IF NOT EXISTS temp.terms_used USING fts5vocab(main, page_words, row)");
    index.exec("DELETE FROM terms WHERE term NOT IN (SELECT term FROM temp.terms_used)");
    if (sqlite3_changes(index.getHandle()) > 0) rebuild_shapes(index);
    SQLite::Statement done(index, "INSERT OR REPLACE INTO counters VALUES ('purged', ?)");
    done.bind(1, taken_away);
    done.exec();
    return false;
}

int Cabinet::Inside::pack_again(int most) {
    const long long newest = packers.newest();
    if (newest == 0) return 0;
    std::vector<std::pair<std::int64_t, std::string>> done;
    SQLite::Statement rows(*database, "SELECT id, dictionary, words FROM pages WHERE dictionary < ? LIMIT ?");
    rows.bind(1, static_cast<int64_t>(newest));
    rows.bind(2, most);
    while (rows.executeStep()) {
        const SQLite::Column blob = rows.getColumn(2);
        const auto words =
            packers.of(rows.getColumn(1).getInt64())
                .unpacked({static_cast<const char*>(blob.getBlob()), static_cast<size_t>(blob.getBytes())});
        done.emplace_back(rows.getColumn(0).getInt64(), packers.of(newest).packed(words.value_or(PageWords{})));
    }
    SQLite::Statement write(*database, "UPDATE pages SET dictionary = ?, words = ? WHERE id = ?");
    for (const auto& [id, bytes] : done) {
        write.bind(1, static_cast<int64_t>(newest));
        write.bind(2, bytes.data(), static_cast<int>(bytes.size()));
        write.bind(3, id);
        write.exec();
        write.reset();
    }
    return static_cast<int>(done.size());
}

Result<void> Cabinet::rebuild_index() {
    return inside_->changed([&] {
        SQLite::Database& database = *inside_->database;
        recreate_index_tables(database);
        IndexChange in(database, Indexing::In);
        SQLite::Statement rows(database, std::string("SELECT ") + paper_columns + " FROM papers ORDER BY id");
        while (rows.executeStep()) {
            const CabinetPaper paper = paper_of(rows);
            const auto pages = inside_->pages_of(paper.id);
            const std::vector<PageWords> words = inside_->words_of(*pages);
            for (size_t i = 0; i < words.size(); ++i)
                in.page(pages->first + static_cast<long long>(i), indexed(words[i]));
            in.paper(paper.id, texts_of(paper));
        }
        in.finish();
        inside_->next("taken away");
    });
}

Result<bool> Cabinet::is_whole() const {
    try {
        SQLite::Database& database = *inside_->database;
        if (database.execAndGet("PRAGMA quick_check(1)").getString() != "ok") return false;
        database.exec("INSERT INTO page_words (page_words) VALUES ('integrity-check')");
        database.exec("INSERT INTO paper_words (paper_words) VALUES ('integrity-check')");
        return true;
    } catch (const std::exception& what) {
        if (means_damaged(what)) return false;
        return cabinet_trouble(what);
    }
}

Result<FileMark> quick_mark_of(const fs::path& file) {
    struct stat is {};
    if (::stat(file.c_str(), &is) != 0)
        return fail(errno == ENOENT || errno == ENOTDIR ? ErrorKind::Missing : ErrorKind::BadInput,
                    fmt::format("The file {} could not be opened ({}).", file.string(), std::strerror(errno)));
    if (!S_ISREG(is.st_mode)) return fail(ErrorKind::Missing, fmt::format("{} is not a file.", file.string()));
    return FileMark{static_cast<std::uint64_t>(is.st_size),
                    static_cast<std::int64_t>(is.st_mtim.tv_sec) * 1'000'000'000 + is.st_mtim.tv_nsec,
                    {}};
}

Result<FileMark> mark_of(const fs::path& file) {
    auto mark = quick_mark_of(file);
    if (!mark) return mark;
    std::ifstream in(file, std::ios::binary);
    const std::unique_ptr<GChecksum, decltype(&g_checksum_free)> sum(g_checksum_new(G_CHECKSUM_SHA256),
                                                                     g_checksum_free);
    std::string bytes(1 << 18, '\0');
    while (in) {
        in.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
        g_checksum_update(sum.get(), reinterpret_cast<const guchar*>(bytes.data()), in.gcount());
    }
    if (!in.eof())
        return fail(ErrorKind::BadInput, fmt::format("The file {} could not be read completely.", file.string()));
    mark->contents = g_checksum_get_string(sum.get());
    return mark;
}

}
