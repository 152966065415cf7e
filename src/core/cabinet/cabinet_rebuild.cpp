// A damaged cabinet is set aside and rebuilt from what can still be read: row by row, so that a damaged page loses only
// the rows on it; page by page of the file if SQLite cannot reach a row any more (Debian's sqlite3 is built without the
// extension that its own .recover needs); and, for documents whose row is lost, from their files, whose paths are also
// stored in an index.
#include "core/cabinet/cabinet_inside.h"
#include "core/cabinet/sqlite_pages.h"
#include "core/storage/set_aside.h"

#include <fmt/format.h>

#include <set>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr const char* endings[] = {"", "-wal", "-shm"};
constexpr size_t at_once = 200; // papers in one transaction

struct SetAside {
    fs::path folder, file;
};

Result<SetAside> set_aside(const fs::path& file) {
    auto folder = new_set_aside_folder(file.parent_path());
    if (!folder) return std::unexpected(folder.error());
    for (const char* end : endings)
        if (auto moved = move_aside(file.string() + end, *folder, disk()); !moved)
            return std::unexpected(moved.error());
    return SetAside{*folder, *folder / file.filename()};
}

template <class Ask>
auto tried(Ask ask) -> std::optional<decltype(ask())> {
    try {
        return ask();
    } catch (const std::exception&) { // Damaged data count as missing.
        return std::nullopt;
    }
}

// The largest id in the table, or nothing if the table cannot be read.
std::optional<std::int64_t> last_id(SQLite::Database& database) {
    return tried([&] { return database.execAndGet("SELECT IFNULL(MAX(id), 0) FROM papers").getInt64(); });
}

// Returns the document if the row belongs to the table of documents, recognised by the types of its columns (see
// cabinet_file.cpp). The words of its pages are not recovered: without a mark, the file is read again.
std::optional<NewPaper> paper_of_row(const SqliteRow& row) {
    constexpr size_t columns = 19;
    constexpr size_t file = 1, ticket = 2, saved = 3, sender = 4, kind = 5, number = 6, heading = 7, date = 8,
                     pages = 10, contents = 13, place = 14, text_state = 15, taken_from = 16, document = 17;
    if (row.values.size() != columns) return std::nullopt;
    const auto text = [&](size_t at) { return std::get_if<std::string>(&row.values[at]); };
    const auto integer = [&](size_t at) { return std::get_if<std::int64_t>(&row.values[at]); };
    for (size_t at = 1; at < columns; ++at) {
        const bool is_text = (at <= date && at != saved) || at == contents || at == taken_from || at == document;
        if (is_text ? !text(at) : !integer(at)) return std::nullopt;
    }
    constexpr std::int64_t most_pages = 100'000;
    if (!text(file)->starts_with('/') || *integer(pages) < 0 || *integer(pages) > most_pages) return std::nullopt;
    NewPaper paper;
    // All members are named, so that a new one does not compile without its column. `mark` stays empty on purpose.
    auto& [its_file, its_ticket, its_saved, known, mark, its_place, its_text_state, its_taken_from, its_document] =
        static_cast<PaperFile&>(paper);
    auto& [its_sender, its_kind, its_number, its_heading, its_date] = known;
    its_file = *text(file);
    its_ticket = *text(ticket);
    its_saved = std::chrono::sys_seconds(std::chrono::seconds(*integer(saved)));
    its_sender = *text(sender);
    its_kind = *text(kind);
    its_number = *text(number);
    its_heading = *text(heading);
    its_date = *text(date);
    its_place = static_cast<Place>(std::clamp<std::int64_t>(*integer(place), 0, 2));
    its_text_state = static_cast<TextState>(std::clamp<std::int64_t>(*integer(text_state), 0, 2));
    its_taken_from = *text(taken_from);
    its_document = *text(document);
    paper.words.assign(static_cast<size_t>(std::max<std::int64_t>(1, *integer(pages))), {});
    return paper;
}

// Returns the paths in the index of paths, read from both ends as far as possible. An index is on other pages of the
// file than the rows.
std::set<std::string> paths_in_index(SQLite::Database& database) {
    std::set<std::string> paths;
    for (const char* order : {"", " DESC"})
        tried([&] {
            SQLite::Statement rows(
                database,
                std::string("SELECT file FROM papers INDEXED BY sqlite_autoindex_papers_1 ORDER BY file") + order);
            while (rows.executeStep()) paths.insert(rows.getColumn(0).getString());
            return true;
        });
    return paths;
}

}

Result<void> Cabinet::rebuild() {
    if (auto alone = lock_.take_alone(); !alone) return alone;
    inside_.reset();
    const auto aside = set_aside(folder_ / cabinet_file_name);
    if (!aside) return std::unexpected(aside.error());
    try {
        inside_ = std::make_unique<Inside>(open_cabinet_file(folder_ / cabinet_file_name));
    } catch (const std::exception& what) {
        return cabinet_trouble(what);
    }
    const size_t saved = take_over(aside->file) + take_over_by_pages(aside->file);
    const auto counted = [](size_t papers) { return papers == 1 ? "1 document" : fmt::format("{} documents", papers); };
    rebuilt_ = fmt::format(
        "The cabinet was damaged. It was rebuilt with {} that could still be read{}; the damaged one "
        "is in {}.",
        counted(saved), lost_files_.empty() ? "" : fmt::format(", and {} are read again", counted(lost_files_.size())),
        aside->folder.string());
    lock_.share();
    return {};
}

size_t Cabinet::take_over(const fs::path& from) {
    auto opened = tried([&] {
        return std::make_unique<Inside>(std::make_unique<SQLite::Database>(from.string(), SQLite::OPEN_READONLY, 1000));
    });
    if (!opened) return 0;
    Inside& old = **opened;
    size_t taken = 0;
    std::vector<NewPaper> some;
    const auto add_some = [&] {
        if (auto added = add(some)) taken += added->size();
        some.clear();
    };
    const auto row_of = [&](std::int64_t id) {
        return tried([&]() -> std::optional<CabinetPaper> {
                   SQLite::Statement row(*old.database,
                                         std::string("SELECT ") + paper_columns + " FROM papers WHERE id = ?");
                   row.bind(1, id);
                   return row.executeStep() ? std::optional(paper_of(row)) : std::nullopt;
               })
            .value_or(std::nullopt);
    };
    const std::int64_t last = last_id(*old.database).value_or(0);
    for (std::int64_t id = 1; id <= last; ++id) {
        auto paper = row_of(id);
        if (!paper) continue;
        const auto known = paper_at(paper->file);
        if (known && *known) continue; // Another source provided this document already.
        NewPaper again{static_cast<PaperFile&&>(*paper), {}};
        const auto words = tried([&] {
            const auto pages = old.pages_of(id);
            return pages ? old.words_of(*pages) : std::vector<PageWords>{};
        });
        if (words) {
            again.words = *words;
        } else { // The words are lost, so the file has to be read again.
            again.words.assign(static_cast<size_t>(std::max(1, paper->pages)), {});
            again.mark = {};
        }
        some.push_back(std::move(again));
        if (some.size() == at_once) add_some();
    }
    add_some();
    tried([&] {
        SQLite::Statement rows(*old.database, "SELECT folder, read_missing FROM folders");
        while (rows.executeStep()) (void)watch_folder(taken_folder(rows));
        return true;
    });
    std::set<std::string> lost = paths_in_index(*old.database);
    for (const fs::path& each : lost_files_) lost.insert(each.string());
    lost_files_.clear();
    for (const std::string& path : lost) {
        std::error_code none;
        const auto known = paper_at(path);
        if (known && !*known && fs::is_regular_file(path, none)) lost_files_.emplace_back(path);
    }
    return taken;
}

size_t Cabinet::take_over_by_pages(const fs::path& from) {
    std::vector<NewPaper> lost;
    for (const char* end : {"", "-wal"})
        for_rows_in_pages(from.string() + end, [&](const SqliteRow& row) {
            auto paper = paper_of_row(row);
            if (!paper) return;
            const auto known = paper_at(paper->file);
            if (known && !*known) lost.push_back(std::move(*paper));
        });
    size_t taken = 0;
    for (size_t begin = 0; begin < lost.size(); begin += at_once)
        if (auto added = add(std::span(lost).subspan(begin, std::min(at_once, lost.size() - begin))))
            taken += added->size();
    std::erase_if(lost_files_, [&](const fs::path& file) {
        const auto known = paper_at(file);
        return known && known->has_value();
    });
    return taken;
}

}
