// Opening the cabinet, whatever state it is in, and what is done when there is nothing else to do.
#include "core/cabinet/cabinet_inside.h"
#include "core/private_files.h"
#include "core/tray/set_aside.h"

#include <fmt/format.h>
#include <glib.h>
#include <sqlite3.h>
#include <sys/stat.h>

#include <cerrno>
#include <cstring>
#include <fstream>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr const char* endings[] = {"", "-wal", "-shm"};

// Whether what every call needs can be read.
void try_out(SQLite::Database& database) {
    database.execAndGet("SELECT COUNT(*) FROM counters");
    database.execAndGet("SELECT IFNULL(MAX(id), 0) FROM papers");
    SQLite::Statement(database, "SELECT rowid FROM page_words WHERE page_words MATCH '\"yelvin\"'").executeStep();
    SQLite::Statement(database, "SELECT rowid FROM paper_words WHERE paper_words MATCH '\"yelvin\"'").executeStep();
}

struct SetAside {
    fs::path folder, file;
};
Result<SetAside> set_aside(const fs::path& file) {
    auto folder = new_set_aside_folder(file.parent_path());
    if (!folder) return std::unexpected(folder.error());
    for (const char* end : endings)
        if (auto moved = moved_aside(file.string() + end, *folder, disk()); !moved)
            return std::unexpected(moved.error());
    return SetAside{*folder, *folder / file.filename()};
}

}

Result<Cabinet> Cabinet::open(const fs::path& folder) {
    if (const std::error_code failed = make_private_folder(folder))
        return fail(ErrorKind::NotWritable,
                    fmt::format("The cabinet's folder {} could not be made ({}).", folder.string(), failed.message()));
    Cabinet cabinet(folder);
    try {
        auto database = open_cabinet_file(folder / cabinet_file_name);
        try_out(*database);
        cabinet.inside_ = std::make_unique<Inside>(std::move(database));
        return cabinet;
    } catch (const std::exception& what) {
        if (!means_damaged(what)) return cabinet_trouble(what);
    }
    if (auto anew = cabinet.make_anew(); !anew) return std::unexpected(anew.error());
    return cabinet;
}

Result<void> Cabinet::make_anew() {
    inside_.reset();
    const auto aside = set_aside(folder_ / cabinet_file_name);
    if (!aside) return std::unexpected(aside.error());
    try {
        inside_ = std::make_unique<Inside>(open_cabinet_file(folder_ / cabinet_file_name));
    } catch (const std::exception& what) {
        return cabinet_trouble(what);
    }
    const size_t saved = take_over(aside->file);
    rebuilt_ =
        fmt::format("The cabinet was damaged and was made anew with {} that could still be read; the damaged one "
                    "is set aside in {}.",
                    saved == 1 ? "one paper" : fmt::format("{} papers", saved), aside->folder.string());
    return {};
}

size_t Cabinet::take_over(const fs::path& damaged) {
    size_t taken = 0;
    const auto each = [&](SQLite::Database& database, const std::function<void(Inside&)>& with) {
        try {
            Inside inside(std::make_unique<SQLite::Database>(database.getFilename(), SQLite::OPEN_READONLY, 1000));
            with(inside);
        } catch (const std::exception&) { // what comes behind the damage is not reached
        }
    };
    try {
        SQLite::Database database(damaged.string(), SQLite::OPEN_READONLY, 1000);
        each(database, [&](Inside& old) {
            SQLite::Statement rows(*old.database, std::string("SELECT ") + paper_columns + " FROM papers ORDER BY id");
            while (rows.executeStep()) {
                const CabinetPaper paper = paper_of(rows);
                NewPaper again{static_cast<const PaperFile&>(paper), {}};
                try {
                    if (const auto pages = old.pages_of(paper.id)) again.words = old.words_of(*pages);
                } catch (const std::exception&) { // its words are lost: it is to be read again
                    again.words.assign(static_cast<size_t>(paper.pages), {});
                    again.mark = {};
                }
                if (add(again)) ++taken;
            }
        });
        each(database, [&](Inside& old) {
            SQLite::Statement rows(*old.database, "SELECT folder, read_missing FROM folders");
            while (rows.executeStep()) (void)take_folder(taken_folder(rows));
        });
    } catch (const std::exception&) { // no database at all
    }
    return taken;
}

Result<bool> Cabinet::tend() {
    constexpr int samples = 1000, fewest = 300, at_once = 1000, given_back_at_once = 200;
    SQLite::Database& database = *inside_->database;
    const auto more = inside_->changed([&]() -> bool {
        (void)inside_->packers.of(
            inside_->packers.newest()); // making a dictionary ready takes 80 ms: not when a paper comes
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
        const bool merged = sqlite3_total_changes(database.getHandle()) - before < 2; // as FTS5's manual tells the end
        const int free = database.execAndGet("PRAGMA freelist_count").getInt();
        if (merged && !*more) database.exec(fmt::format("PRAGMA incremental_vacuum({})", given_back_at_once));
        return *more || !merged || free > given_back_at_once;
    });
    if (!merging) return merging;
    return inside_->asked([&] {
        database.exec("PRAGMA wal_checkpoint(PASSIVE)");
        return *merging;
    });
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

Result<void> Cabinet::index_anew() {
    return inside_->changed([&] {
        SQLite::Database& database = *inside_->database;
        remake_index_tables(database);
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

Result<FileMark> glance_at(const fs::path& file) {
    struct stat is {};
    if (::stat(file.c_str(), &is) != 0)
        return fail(errno == ENOENT || errno == ENOTDIR ? ErrorKind::Missing : ErrorKind::BadInput,
                    fmt::format("The file {} could not be looked at ({}).", file.string(), std::strerror(errno)));
    if (!S_ISREG(is.st_mode)) return fail(ErrorKind::Missing, fmt::format("{} is no file.", file.string()));
    return FileMark{static_cast<std::uint64_t>(is.st_size),
                    static_cast<std::int64_t>(is.st_mtim.tv_sec) * 1'000'000'000 + is.st_mtim.tv_nsec,
                    {}};
}

Result<FileMark> mark_of(const fs::path& file) {
    auto mark = glance_at(file);
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
        return fail(ErrorKind::BadInput, fmt::format("The file {} could not be read to its end.", file.string()));
    mark->contents = g_checksum_get_string(sum.get());
    return mark;
}

}
