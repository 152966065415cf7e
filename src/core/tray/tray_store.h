// The out tray on disk: a SQLite database (WAL) of documents and pages, beside the originals that core/tray/originals.h
// writes into the same folder.
//
// A page counts as scanned once its original has its final name. After a crash at any moment, load() adds the originals
// that the database does not know yet.
//
// Nothing is deleted that was not understood: an original is deleted only after the commit of a step that no longer
// leads back to it, and what cannot be read is set aside in a folder beside the store.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"
#include "core/text/carried_words.h"
#include "core/tray/kept_documents.h"
#include "core/tray/ticket_in_use.h"
#include "core/tray/tray.h"

#include <chrono>
#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <vector>

namespace SQLite {
class Database;
}

namespace yelvin {

// A step of the history: the tray before it and the name of the step.
struct TrayStep {
    Tray tray;
    std::string name;
};
// The steps that can be undone and redone, the oldest first.
struct TrayHistory {
    std::vector<TrayStep> undo, redo;
};
inline constexpr size_t most_steps = 100; // that can be undone

// What load() read.
struct LoadedTray {
    Tray tray;
    TrayHistory history;
    TicketsInUse tickets;            // those that a document of the tray, the history or the kept ones names
    std::string trouble;             // one sentence about what could not be read; empty if everything could
    std::filesystem::path set_aside; // the folder that holds what could not be read; empty if nothing was set aside
};

// The store of one out tray. Movable, not thread-safe: used by one thread at a time. One process at a time may have it
// (StoreLock). The functions block on the disk.
//
// Functions that return Result report DiskFull, or NotWritable if the database cannot be written; it is then as it was
// before the call.
class TrayStore {
  public:
    // Opens the store, or creates it in `folder`, which is created too. `steps` must outlive the store. Errors:
    // NotWritable; BadInput if the database is not one (open_afresh() begins another); Unsupported if a newer version
    // of Yelvin wrote it.
    static Result<TrayStore> open(const std::filesystem::path& folder, FileSteps& steps = disk());
    // Opens the store with a new database and sets the old one aside; load() then adds all originals. Errors:
    // NotWritable.
    static Result<TrayStore> open_afresh(const std::filesystem::path& folder, FileSteps& steps = disk());
    TrayStore(TrayStore&&) noexcept;
    TrayStore& operator=(TrayStore&&) noexcept;
    ~TrayStore();

    // Reads the tray and its history as they were kept last. Originals without a row are added in a document of their
    // own, unfinished files of a killed program are deleted, and what is not understood is set aside. Call it once,
    // before anything is kept. Errors: what is there could neither be read nor set aside; nothing was changed.
    Result<LoadedTray> load();

    // Stores the tray and, if given, its history, in one transaction. Each state of a page is stored once, however many
    // steps hold it. After the commit, deletes the originals that neither the tray nor the history leads back to;
    // without a history no file is deleted. On an error everything is as it was.
    //
    // A document that was stored as saved and is no longer in the tray becomes a KeptDocument, unless one of its pages
    // is still in the tray. A kept document that is in the tray again is a kept one no longer.
    Result<void> keep(const Tray& tray, const TrayHistory* history = nullptr);

    // Stores what the ticket with this id says, replacing what it said before. Documents name tickets by their id.
    Result<void> keep_ticket(const std::string& id, const TicketInUse& ticket);

    // The kept documents, the one that left the tray first at the front. Valid until the next non-const call.
    const std::vector<KeptDocument>& kept_documents() const { return kept_; }
    // Deletes the kept documents that expired_by_rule() names: their rows, their text and, after the commit, those of
    // their originals that neither the tray nor the history needs. On an error all of them stay.
    Result<void> delete_expired(const KeepingRule& rule, std::chrono::sys_seconds now);

    // The text that OCR found on a page, and the recipe that the page was developed by when it was read.
    struct KeptText {
        Recipe read_as;
        TextLayer layer;
    };
    // Stores the latest text of a page for these languages, replacing the one before.
    Result<void> keep_text(const std::string& page_id, const Recipe& read_as, const std::string& languages,
                           const TextLayer& layer);
    // Returns nullopt if no text is stored for the page and the languages, or if it is damaged.
    std::optional<KeptText> text(const std::string& page_id, const std::string& languages);

    // A stored text without its words.
    struct ReadPage {
        std::string page_id, languages;
        ReadAs read;
    };
    // Lists the stored texts; damaged ones are left out.
    std::vector<ReadPage> read_pages();

    // Deletes an original that was never part of a tray and is not needed.
    void discard(const Original& original);

    const std::filesystem::path& folder() const { return folder_; }

  private:
    std::filesystem::path folder_;
    FileSteps* steps_ = nullptr;
    std::unique_ptr<SQLite::Database> database_;
    std::filesystem::path set_aside_; // created when something is set aside first; empty until then
    bool afresh_ = false;
    // Rows of the states of pages in the database. The key keeps the page alive, so that its address stays its own.
    std::map<PagePtr, long> states_;
    // Originals of all trays that were kept since unneeded originals were last looked for.
    std::set<std::string> held_;
    std::vector<std::string> removed_; // deleted files whose rows the next commit removes
    Tray in_database_;                 // the tray that was kept last
    // The contents of the tables as this program wrote them; rows that are the same are not written again. Without a
    // value until the first keep().
    std::optional<Tray> written_;
    using StepRows = std::map<std::pair<int, size_t>, std::pair<std::string, std::string>>; // name, documents
    std::optional<StepRows> steps_written_;
    std::vector<KeptDocument> kept_;

    struct Reading; // state of load() (tray_load.cpp)
    struct Change;  // state of keep() (tray_keep.cpp)
    TrayStore();
    Result<void> connect();
    Result<std::filesystem::path> set_aside_folder();
    Result<void> set_database_aside(bool move);
    bool is_copied_beside(const std::filesystem::path& into);
    void remove_file_of(const std::string& original);
    // The kept documents as they will be once `tray` is kept.
    std::vector<KeptDocument> kept_beside(const Tray& tray) const;
    // The next three throw SQLite::Exception.
    void write_kept(const std::vector<KeptDocument>& kept);
    void note_going(const std::set<std::string>& originals);
    void forget_tickets(const std::vector<std::string>& ids);
    void take_over(Reading& reading);
    void forget_readings();               // removes the text of pages that nothing leads to
    std::set<std::string> led_to() const; // originals that the tray or the history needs
    std::uint64_t bytes_of(const Document& document) const;
    std::unexpected<Error> failed(const std::exception& what) const;
};

}
