// The implementation of Cabinet: its database and the steps of its functions. Internal to core/cabinet.
#pragma once

#include "core/cabinet/cabinet.h"
#include "core/cabinet/cabinet_file.h"

namespace yelvin {

// Throws if what every function needs cannot be read.
void try_out_cabinet(SQLite::Database& database);
std::unexpected<Error> cabinet_trouble(const std::exception& what); // an exception as an error
bool means_damaged(const std::exception& what);

inline constexpr const char* paper_columns =
    "id, file, ticket, saved, sender, kind, number, heading, date, size, changed, contents, place, words_are, "
    "taken_from, document, pages";

CabinetPaper paper_of(SQLite::Statement& row); // a row of paper_columns
// Returns what the index has of a document besides its pages: name, heading, other facts.
std::array<std::string, 3> texts_of(const PaperFile& paper);

inline WatchedFolder taken_folder(SQLite::Statement& row) { // a row of its two columns
    const int unread = row.getColumn(1).getInt();
    const bool known = unread >= 0 && unread <= static_cast<int>(WithoutText::MakeSearchable);
    return {row.getColumn(0).getString(), known ? static_cast<WithoutText>(unread) : WithoutText::Leave};
}

struct Cabinet::Inside {
    std::unique_ptr<SQLite::Database> database;
    Packers packers{*database};
    explicit Inside(std::unique_ptr<SQLite::Database> opened) : database(std::move(opened)) {}

    struct Pages {
        long long first = 0;
        int count = 0;
    };
    std::int64_t next(const char* counter, std::int64_t by = 1) {
        SQLite::Statement step(*database, "UPDATE counters SET value = value + ? WHERE name = ? RETURNING value");
        step.bind(1, by);
        step.bind(2, counter);
        step.executeStep();
        return step.getColumn(0).getInt64();
    }
    void lies_in_place(const std::filesystem::path& file) { // registers the file's folder
        SQLite::Statement place(*database, "INSERT OR IGNORE INTO places VALUES (?, 0)");
        place.bind(1, file.parent_path().string());
        place.exec();
    }
    std::vector<PageWords> words_of(const Pages& pages);
    std::optional<Pages> pages_of(long long id);
    void take_out(long long id, IndexChange& out); // removes its words; the row stays
    int pack_again(int most);                      // packs pages with the newest dictionary; returns their number
    bool purge(); // removes traces of removed words from the index; returns whether there is more to do
    std::vector<long long> add(std::span<const NewPaper> papers); // within the caller's transaction
    long long put_in(const NewPaper& paper, std::optional<long long> id, IndexChange& in);

    template <class Change>
    auto changed(Change change) -> Result<decltype(change())> {
        try {
            SQLite::Transaction transaction(*database, SQLite::TransactionBehavior::IMMEDIATE);
            if constexpr (std::is_void_v<decltype(change())>) {
                change();
                transaction.commit();
                return {};
            } else {
                auto out = change();
                transaction.commit();
                return out;
            }
        } catch (const std::exception& what) {
            packers.look_again();
            return cabinet_trouble(what);
        }
    }
    template <class Ask>
    auto asked(Ask ask) -> Result<decltype(ask())> {
        try {
            return ask();
        } catch (const std::exception& what) {
            return cabinet_trouble(what);
        }
    }
    std::vector<CabinetPaper> papers(const std::string& where, const std::function<void(SQLite::Statement&)>& bind) {
        SQLite::Statement rows(*database, std::string("SELECT ") + paper_columns + " FROM papers " + where);
        bind(rows);
        std::vector<CabinetPaper> out;
        while (rows.executeStep()) out.push_back(paper_of(rows));
        return out;
    }
};

}
