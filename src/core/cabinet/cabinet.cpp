#include "core/cabinet/cabinet.h"

#include "core/cabinet/cabinet_inside.h"

#include <sqlite3.h>

#include <algorithm>
#include <utility>

namespace fs = std::filesystem;

namespace yelvin {

std::unexpected<Error> cabinet_trouble(const std::exception& what) {
    if (dynamic_cast<const NewerCabinet*>(&what))
        return fail(ErrorKind::Unsupported,
                    "The cabinet was made by a newer version of Yelvin; use that version to open it.", what.what());
    const auto* sqlite = dynamic_cast<const SQLite::Exception*>(&what);
    const int code = sqlite ? sqlite->getErrorCode() : SQLITE_ERROR;
    if (code == SQLITE_FULL)
        return fail(ErrorKind::DiskFull, "The cabinet could not be saved, because its disk is full; make room there.",
                    what.what());
    if (means_damaged(what))
        return fail(ErrorKind::BadInput, "The cabinet is damaged; restart Yelvin to rebuild it.", what.what());
    return fail(ErrorKind::NotWritable,
                "The cabinet could not be saved; check that you have permission to write to its folder.", what.what());
}

bool means_damaged(const std::exception& what) {
    const auto* sqlite = dynamic_cast<const SQLite::Exception*>(&what);
    if (!sqlite) return false;
    return sqlite->getErrorCode() == SQLITE_CORRUPT || sqlite->getErrorCode() == SQLITE_NOTADB;
}

CabinetPaper paper_of(SQLite::Statement& row) {
    CabinetPaper paper;
    // All members are named, so that a new one does not compile without its column.
    auto& [file, ticket, saved, known, mark, place, text_state, taken_from, document] = static_cast<PaperFile&>(paper);
    auto& [sender, kind, number, heading, date] = known;
    auto& [size, changed_ns, contents] = mark;
    int at = 0;
    paper.id = row.getColumn(at++).getInt64();
    file = row.getColumn(at++).getString();
    ticket = row.getColumn(at++).getString();
    saved = std::chrono::sys_seconds(std::chrono::seconds(row.getColumn(at++).getInt64()));
    for (std::string* each : {&sender, &kind, &number, &heading, &date}) *each = row.getColumn(at++).getString();
    size = static_cast<std::uint64_t>(row.getColumn(at++).getInt64());
    changed_ns = row.getColumn(at++).getInt64();
    contents = row.getColumn(at++).getString();
    place = static_cast<Place>(std::clamp(row.getColumn(at++).getInt(), 0, 2));
    text_state = static_cast<TextState>(std::clamp(row.getColumn(at++).getInt(), 0, 2));
    taken_from = row.getColumn(at++).getString();
    document = row.getColumn(at++).getString();
    paper.pages = row.getColumn(at).getInt();
    return paper;
}

std::array<std::string, 3> texts_of(const PaperFile& paper) {
    const auto terms = [](const std::vector<std::string>& parts) {
        std::string text;
        for (const std::string& part : parts) {
            std::vector<std::string> words;
            std::string word;
            for (const char c : part + ' ')
                if (c != ' ' && c != '_')
                    word += c;
                else if (!word.empty())
                    words.push_back(std::exchange(word, {}));
            text += indexed_text(words);
        }
        return text;
    };
    return {terms({paper.file.stem().string()}), terms({paper.known.heading}),
            terms({paper.known.sender, paper.known.kind, paper.known.number, paper.ticket})};
}

std::vector<PageWords> Cabinet::Inside::words_of(const Pages& pages) {
    std::vector<PageWords> out(static_cast<size_t>(pages.count));
    SQLite::Statement rows(*database, "SELECT id, dictionary, words FROM pages WHERE id >= ? AND id < ?");
    rows.bind(1, static_cast<int64_t>(pages.first));
    rows.bind(2, static_cast<int64_t>(pages.first + pages.count));
    while (rows.executeStep()) {
        const SQLite::Column blob = rows.getColumn(2);
        auto words = packers.of(rows.getColumn(1).getInt64())
                         .unpacked({static_cast<const char*>(blob.getBlob()), static_cast<size_t>(blob.getBytes())});
        if (words) out[static_cast<size_t>(rows.getColumn(0).getInt64() - pages.first)] = std::move(*words);
    }
    return out;
}

std::optional<Cabinet::Inside::Pages> Cabinet::Inside::pages_of(long long id) {
    SQLite::Statement row(*database, "SELECT first_page, pages FROM papers WHERE id = ?");
    row.bind(1, static_cast<int64_t>(id));
    if (!row.executeStep()) return std::nullopt;
    return Pages{row.getColumn(0).getInt64(), row.getColumn(1).getInt()};
}

void Cabinet::Inside::take_out(long long id, IndexChange& out) {
    const auto pages = pages_of(id);
    if (!pages) return;
    const std::vector<PageWords> words = words_of(*pages);
    for (size_t i = 0; i < words.size(); ++i) out.page(pages->first + static_cast<long long>(i), indexed(words[i]));
    SQLite::Statement row(*database, std::string("SELECT ") + paper_columns + " FROM papers WHERE id = ?");
    row.bind(1, static_cast<int64_t>(id));
    if (row.executeStep()) out.paper(id, texts_of(paper_of(row)));
    SQLite::Statement gone(*database, "DELETE FROM pages WHERE id >= ? AND id < ?");
    gone.bind(1, static_cast<int64_t>(pages->first));
    gone.bind(2, static_cast<int64_t>(pages->first + pages->count));
    gone.exec();
}

long long Cabinet::Inside::put_in(const NewPaper& paper, std::optional<long long> id, IndexChange& in) {
    const auto count = static_cast<int>(paper.words.size());
    const long long first = next("last page", count) - count + 1;
    SQLite::Statement row(*database, std::string("INSERT OR REPLACE INTO papers (") + paper_columns +
                                         ", first_page, revision) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)");
    int at = 0;
    if (id)
        row.bind(++at, static_cast<int64_t>(*id));
    else
        row.bind(++at);
    // All members are named, so that a new one does not compile without its column.
    const auto& [file, ticket, saved, known, mark, place, text_state, taken_from, document] =
        static_cast<const PaperFile&>(paper);
    const auto& [sender, kind, number, heading, date] = known;
    const auto& [size, changed_ns, contents] = mark;
    row.bind(++at, file.string());
    row.bind(++at, ticket);
    row.bind(++at, static_cast<int64_t>(saved.time_since_epoch().count()));
    for (const std::string* each : {&sender, &kind, &number, &heading, &date}) row.bind(++at, *each);
    row.bind(++at, static_cast<int64_t>(size));
    row.bind(++at, changed_ns);
    row.bind(++at, contents);
    row.bind(++at, static_cast<int>(place));
    row.bind(++at, static_cast<int>(text_state));
    row.bind(++at, taken_from);
    row.bind(++at, document);
    row.bind(++at, count);
    row.bind(++at, static_cast<int64_t>(first));
    row.bind(++at, next("revision"));
    row.exec();
    const long long made = id.value_or(database->getLastInsertRowid());
    SQLite::Statement page(*database, "INSERT INTO pages VALUES (?, ?, ?)");
    for (int i = 0; i < count; ++i) {
        const PageWords& words = paper.words[static_cast<size_t>(i)];
        const std::string bytes = packers.of(packers.newest()).packed(words);
        page.bind(1, static_cast<int64_t>(first + i));
        page.bind(2, static_cast<int64_t>(packers.newest()));
        page.bind(3, bytes.data(), static_cast<int>(bytes.size()));
        page.exec();
        page.reset();
        in.page(first + i, indexed(words));
    }
    in.paper(made, texts_of(paper));
    lies_in_place(paper.file);
    return made;
}

Cabinet::Cabinet(fs::path folder) : folder_(std::move(folder)) {}
Cabinet::Cabinet(Cabinet&&) noexcept = default;
Cabinet& Cabinet::operator=(Cabinet&&) noexcept = default;
Cabinet::~Cabinet() = default;

Result<bool> Cabinet::add_unless_known(const NewPaper& paper) {
    return inside_->changed([&]() -> bool {
        const auto same = inside_->papers("WHERE file = ? AND contents = ?", [&](auto& row) {
            row.bind(1, paper.file.string());
            row.bind(2, paper.mark.contents);
        });
        if (!same.empty()) return false;
        inside_->add(std::span(&paper, 1));
        return true;
    });
}

Result<std::vector<long long>> Cabinet::add(std::span<const NewPaper> papers) {
    return inside_->changed([&] { return inside_->add(papers); });
}

std::vector<long long> Cabinet::Inside::add(std::span<const NewPaper> papers) {
    std::vector<std::optional<long long>> known;
    IndexChange out(*database, Indexing::Out);
    for (const NewPaper& paper : papers) {
        SQLite::Statement row(*database, "SELECT id FROM papers WHERE file = ?");
        row.bind(1, paper.file.string());
        known.push_back(row.executeStep() ? std::optional(row.getColumn(0).getInt64()) : std::nullopt);
        if (known.back()) take_out(*known.back(), out);
    }
    out.finish();
    IndexChange in(*database, Indexing::In);
    std::vector<long long> ids;
    for (size_t i = 0; i < papers.size(); ++i) ids.push_back(put_in(papers[i], known[i], in));
    in.finish();
    return ids;
}

Result<long long> Cabinet::add(const NewPaper& paper) {
    const auto ids = add(std::span(&paper, 1));
    if (!ids) return std::unexpected(ids.error());
    return ids->front();
}

Result<void> Cabinet::moved(long long id, const fs::path& file, const FileMark& mark) {
    auto paper = whole(id);
    if (!paper) return std::unexpected(paper.error());
    const auto other = paper_at(file);
    return inside_->changed([&] {
        IndexChange out(*inside_->database, Indexing::Out);
        // The document that had this path before was overwritten.
        if (other && *other && (*other)->id != id) {
            inside_->take_out((*other)->id, out);
            SQLite::Statement gone(*inside_->database, "DELETE FROM papers WHERE id = ?");
            gone.bind(1, static_cast<int64_t>((*other)->id));
            gone.exec();
            inside_->next("taken away");
        }
        out.paper(id, texts_of(*paper));
        out.finish();
        paper->file = file;
        IndexChange in(*inside_->database, Indexing::In);
        in.paper(id, texts_of(*paper));
        in.finish();
        SQLite::Statement row(
            *inside_->database,
            "UPDATE papers SET file = ?, size = ?, changed = ?, contents = ?, place = 0, revision = ? "
            "WHERE id = ?");
        row.bind(1, file.string());
        row.bind(2, static_cast<int64_t>(mark.size));
        row.bind(3, mark.changed_ns);
        row.bind(4, mark.contents);
        row.bind(5, inside_->next("revision"));
        row.bind(6, static_cast<int64_t>(id));
        row.exec();
        inside_->lies_in_place(file);
    });
}

Result<void> Cabinet::found_at_place(long long id, const FileMark& mark, Place place) {
    return inside_->changed([&] {
        SQLite::Statement row(*inside_->database, "UPDATE papers SET size = ?, changed = ?, contents = ?, place = ?, "
                                                  "revision = ? WHERE id = ?");
        row.bind(1, static_cast<int64_t>(mark.size));
        row.bind(2, mark.changed_ns);
        row.bind(3, mark.contents);
        row.bind(4, static_cast<int>(place));
        row.bind(5, inside_->next("revision"));
        row.bind(6, static_cast<int64_t>(id));
        row.exec();
    });
}

Result<void> Cabinet::remove_entries(const std::vector<long long>& ids) {
    return inside_->changed([&] {
        IndexChange out(*inside_->database, Indexing::Out);
        SQLite::Statement gone(*inside_->database, "DELETE FROM papers WHERE id = ?");
        for (const long long id : ids) {
            inside_->take_out(id, out);
            gone.bind(1, static_cast<int64_t>(id));
            gone.exec();
            gone.reset();
        }
        out.finish();
        inside_->next("taken away");
    });
}

Result<std::vector<CabinetPaper>> Cabinet::all() const {
    return inside_->asked([&] { return inside_->papers("ORDER BY id", [](SQLite::Statement&) {}); });
}

Result<std::optional<CabinetPaper>> Cabinet::paper(long long id) const {
    return inside_->asked([&]() -> std::optional<CabinetPaper> {
        auto found = inside_->papers("WHERE id = ?", [&](auto& row) { row.bind(1, static_cast<int64_t>(id)); });
        if (found.empty()) return std::nullopt;
        return std::move(found.front());
    });
}

Result<std::optional<CabinetPaper>> Cabinet::paper_at(const fs::path& file) const {
    return inside_->asked([&]() -> std::optional<CabinetPaper> {
        auto found = inside_->papers("WHERE file = ?", [&](auto& row) { row.bind(1, file.string()); });
        if (found.empty()) return std::nullopt;
        return std::move(found.front());
    });
}

Result<std::vector<CabinetPaper>> Cabinet::with_contents(const std::string& contents) const {
    return inside_->asked(
        [&] { return inside_->papers("WHERE contents = ?", [&](auto& row) { row.bind(1, contents); }); });
}

Result<std::vector<long long>> Cabinet::older_than(std::chrono::sys_seconds saved) const {
    return inside_->asked([&] {
        std::vector<long long> ids;
        SQLite::Statement rows(*inside_->database, "SELECT id FROM papers WHERE saved < ? ORDER BY id");
        rows.bind(1, static_cast<std::int64_t>(saved.time_since_epoch().count()));
        while (rows.executeStep()) ids.push_back(rows.getColumn(0).getInt64());
        return ids;
    });
}

Result<std::vector<PageWords>> Cabinet::words(long long id) const {
    return inside_->asked([&]() -> std::vector<PageWords> {
        const auto pages = inside_->pages_of(id);
        return pages ? inside_->words_of(*pages) : std::vector<PageWords>{};
    });
}

Result<NewPaper> Cabinet::whole(long long id) const {
    auto found = paper(id);
    if (!found) return std::unexpected(found.error());
    if (!*found) return fail(ErrorKind::Missing, "This document is no longer in the cabinet.");
    auto pages = words(id);
    if (!pages) return std::unexpected(pages.error());
    return NewPaper{static_cast<PaperFile&&>(**found), std::move(*pages)};
}

Result<void> Cabinet::watch_folder(const WatchedFolder& folder) {
    return inside_->changed([&] {
        SQLite::Statement row(*inside_->database, "INSERT OR REPLACE INTO folders VALUES (?, ?)");
        row.bind(1, folder.folder.string());
        row.bind(2, static_cast<int>(folder.unread));
        row.exec();
    });
}

Result<void> Cabinet::unwatch_folder(const fs::path& folder) {
    return inside_->changed([&] {
        SQLite::Statement row(*inside_->database, "DELETE FROM folders WHERE folder = ?");
        row.bind(1, folder.string());
        row.exec();
    });
}

Result<std::vector<WatchedFolder>> Cabinet::folders() const {
    return inside_->asked([&] {
        std::vector<WatchedFolder> out;
        SQLite::Statement rows(*inside_->database, "SELECT folder, read_missing FROM folders ORDER BY folder");
        while (rows.executeStep()) out.push_back(taken_folder(rows));
        return out;
    });
}

}
