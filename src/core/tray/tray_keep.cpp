// TrayStore::keep(): writes the rows that differ from those in the database in one transaction, and deletes the
// originals that nothing needs after the commit.
#include "core/tray/originals.h"
#include "core/tray/rows.h"
#include "core/tray/tray_store.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

using nlohmann::json;

namespace yelvin {

// What the commit changes in memory. It is applied only after the commit succeeded.
struct TrayStore::Change {
    std::map<PagePtr, long> added;
    std::vector<PagePtr> dropped;
    std::set<std::string> gone;
    StepRows steps_written;

    long state_of(const PagePtr& page, const TrayStore& store, SQLite::Statement& insert) {
        if (const auto at = store.states_.find(page); at != store.states_.end()) return at->second;
        if (const auto at = added.find(page); at != added.end()) return at->second;
        insert.reset();
        insert.bind(1, page->id);
        insert.bind(2, row_of(*page));
        insert.exec();
        return added[page] = static_cast<long>(store.database_->getLastInsertRowid());
    }

    std::vector<KeptDocument> kept;

    void keep_steps(TrayStore& store, const Tray& tray, const TrayHistory& history) {
        SQLite::Database& database = *store.database_;
        if (!store.steps_written_) database.exec("DELETE FROM steps");
        const StepRows before = store.steps_written_.value_or(StepRows{});
        SQLite::Statement state(database, "INSERT INTO states (page, data) VALUES (?, ?)");
        SQLite::Statement row(database, "INSERT INTO steps VALUES (?, ?, ?, ?)");
        SQLite::Statement gone(database, "DELETE FROM steps WHERE side = ? AND place = ?");
        const auto remove = [&](const std::pair<int, size_t>& key) {
            gone.reset();
            gone.bind(1, key.first);
            gone.bind(2, static_cast<int64_t>(key.second));
            gone.exec();
        };
        std::set<PagePtr> used;
        for (const bool redo : {false, true}) {
            const auto& steps = redo ? history.redo : history.undo;
            const size_t first = steps.size() > most_steps ? steps.size() - most_steps : 0;
            for (size_t place = first; place < steps.size(); ++place) {
                json documents = json::array();
                for (const DocumentPtr& document : steps[place].tray.documents) {
                    json pages = json::array();
                    for (const PagePtr& page : document->pages) {
                        pages.push_back(state_of(page, store, state));
                        used.insert(page);
                    }
                    documents.push_back({document->id, document->name, document->saved_as, document->barcode, pages,
                                         document->folder, document->ticket});
                }
                const std::pair<int, size_t> key(redo ? 1 : 0, place);
                const std::pair<std::string, std::string> text(steps[place].name, documents.dump());
                steps_written[key] = text;
                const auto at = before.find(key);
                if (at != before.end() && at->second == text) continue;
                if (at != before.end()) remove(key);
                row.reset();
                row.bind(1, key.first);
                row.bind(2, static_cast<int64_t>(place));
                row.bind(3, text.first);
                row.bind(4, text.second);
                row.exec();
            }
        }
        for (const auto& [key, text] : before)
            if (!steps_written.contains(key)) remove(key);
        let_go(store, tray, used);
    }

    // Removes states that no step holds, and determines the originals that nothing needs.
    void let_go(TrayStore& store, const Tray& tray, const std::set<PagePtr>& used) {
        gone = store.held_;
        const auto goes = [&](const std::string& file) { gone.insert(file); };
        SQLite::Statement remove(*store.database_, "DELETE FROM states WHERE id = ?");
        for (const auto& [page, id] : store.states_) {
            if (used.contains(page)) continue;
            remove.reset();
            remove.bind(1, static_cast<int64_t>(id));
            remove.exec();
            dropped.push_back(page);
            for_originals(*page, goes);
        }
        const auto stays = [&](const std::string& file) { gone.erase(file); };
        for (const PagePtr& page : used) for_originals(*page, stays);
        for (const DocumentPtr& document : tray.documents) {
            for (const PagePtr& page : document->pages) for_originals(*page, stays);
        }
        for (const KeptDocument& each : kept) {
            for (const PagePtr& page : each.document->pages) for_originals(*page, stays);
        }
        store.note_going(gone);
        if (!dropped.empty()) store.forget_readings();
    }
};

void TrayStore::note_going(const std::set<std::string>& originals) {
    SQLite::Statement going(*database_, "INSERT OR IGNORE INTO going VALUES (?)");
    for (const std::string& file : originals) {
        going.reset();
        going.bind(1, file);
        going.exec();
    }
}

void TrayStore::forget_readings() {
    database_->exec("DELETE FROM readings WHERE page NOT IN (SELECT id FROM pages UNION SELECT page FROM states UNION "
                    "SELECT id FROM kept_pages)");
}

namespace {

// The rows of the tables of documents and pages by their ids. Two rows are the same if they hold the same object
// (objects are immutable) in the same place.
struct DocumentRow {
    DocumentPtr document;
    size_t place = 0;
    bool operator==(const DocumentRow&) const = default;
};
struct PageRow {
    PagePtr page;
    std::string document;
    size_t place = 0;
    bool operator==(const PageRow&) const = default;
};
struct Rows {
    std::map<std::string, DocumentRow> documents;
    std::map<std::string, PageRow> pages;
};

Rows rows_of(const Tray& tray) {
    Rows rows;
    for (size_t d = 0; d < tray.documents.size(); ++d) {
        const DocumentPtr& document = tray.documents[d];
        rows.documents[document->id] = {document, d};
        for (size_t p = 0; p < document->pages.size(); ++p)
            rows.pages[document->pages[p]->id] = {document->pages[p], document->id, p};
    }
    return rows;
}

// Returns the ids that are in `before` and not in `now`.
template <class Row>
void delete_gone(SQLite::Database& database, const char* table, const std::map<std::string, Row>& before,
                 const std::map<std::string, Row>& now) {
    SQLite::Statement gone(database, fmt::format("DELETE FROM {} WHERE id = ?", table));
    for (const auto& [id, row] : before) {
        if (now.contains(id)) continue;
        gone.reset();
        gone.bind(1, id);
        gone.exec();
    }
}

// Writes the rows that differ from `written`, the tray that the tables hold. Without `written`, their contents are not
// known and all rows are replaced.
void keep_documents(SQLite::Database& database, const Tray& tray, const std::optional<Tray>& written) {
    if (!written) database.exec("DELETE FROM documents; DELETE FROM pages;");
    const Rows before = rows_of(written.value_or(Tray{})), now = rows_of(tray);
    delete_gone(database, "documents", before.documents, now.documents);
    delete_gone(database, "pages", before.pages, now.pages);
    SQLite::Statement document_row(
        database,
        "INSERT OR REPLACE INTO documents (id, place, name, saved_as, barcode, part_of, in_file, folder, ticket) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
    for (const auto& [id, row] : now.documents) {
        if (const auto at = before.documents.find(id); at != before.documents.end() && at->second == row) continue;
        const Document& document = *row.document;
        document_row.reset();
        document_row.bind(1, document.id);
        document_row.bind(2, static_cast<int64_t>(row.place));
        document_row.bind(3, document.name);
        document_row.bind(4, document.saved_as);
        document_row.bind(5, document.barcode);
        document_row.bind(6, document.part_of);
        document_row.bind(7, static_cast<int64_t>(document.in_file));
        document_row.bind(8, document.folder);
        document_row.bind(9, document.ticket);
        document_row.exec();
    }
    SQLite::Statement page_row(database, "INSERT OR REPLACE INTO pages VALUES (?, ?, ?, ?)");
    SQLite::Statement moved(database, "UPDATE pages SET document = ?2, place = ?3 WHERE id = ?1");
    for (const auto& [id, row] : now.pages) {
        const auto at = before.pages.find(id);
        if (at != before.pages.end() && at->second == row) continue;
        const bool only_moved = at != before.pages.end() && at->second.page == row.page;
        SQLite::Statement& statement = only_moved ? moved : page_row;
        statement.reset();
        statement.bind(1, id);
        statement.bind(2, row.document);
        statement.bind(3, static_cast<int64_t>(row.place));
        if (!only_moved) statement.bind(4, row_of(*row.page));
        statement.exec();
    }
}

void forget_removed(SQLite::Database& database, const std::vector<std::string>& files) {
    SQLite::Statement row(database, "DELETE FROM going WHERE file = ?");
    for (const std::string& file : files) {
        row.reset();
        row.bind(1, file);
        row.exec();
    }
}

std::set<std::string> originals_of(const Tray& tray) {
    std::set<std::string> files;
    for (const DocumentPtr& document : tray.documents) {
        for (const PagePtr& page : document->pages)
            for_originals(*page, [&](const std::string& file) { files.insert(file); });
    }
    return files;
}

}

Result<void> TrayStore::keep(const Tray& tray, const TrayHistory* history) {
    if (const std::string contradiction = contradiction_in(tray); !contradiction.empty())
        return fail(ErrorKind::Internal, "The out tray was not kept as it is now: " + contradiction + ".");
    Change change;
    try {
        SQLite::Transaction commit(*database_, SQLite::TransactionBehavior::IMMEDIATE); // rolled back unless committed
        change.kept = kept_beside(tray);
        write_kept(change.kept);
        keep_documents(*database_, tray, written_);
        if (history) change.keep_steps(*this, tray, *history);
        forget_removed(*database_, removed_);
        commit.commit();
    } catch (const std::exception& failure) {
        return failed(failure);
    }
    removed_.clear();
    written_ = tray;
    in_database_ = tray;
    kept_ = std::move(change.kept);
    states_.merge(change.added);
    for (const PagePtr& page : change.dropped) states_.erase(page);
    for (const std::string& file : change.gone) remove_file_of(file);
    if (history) steps_written_ = std::move(change.steps_written);
    if (history) held_.clear();
    held_.merge(originals_of(tray));
    return {};
}

void TrayStore::remove_file_of(const std::string& original) {
    bool gone = steps_->remove(folder_ / original) == 0;
    for (const char* each : beside_original) gone = steps_->remove(folder_ / (original + each)) == 0 && gone;
    if (gone) removed_.push_back(original);
}

void TrayStore::discard(const Original& original) { remove_file_of(original.file); }

}
