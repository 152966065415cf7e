// The out tray's store as the window uses it: loaded once at the start, then written after every change by a writer in
// the background. The store is locked while a keeper exists. Thread-safe, but for load().
#pragma once

#include "core/storage/store_lock.h"
#include "core/tray/tray_store.h"
#include "jobs/executor.h"

#include <mutex>

namespace yelvin {

class TrayKeeper {
  public:
    // Opens the store, or creates it. Writes are passed to `writing`, which must run them one after another; `failed`
    // is called there with errors. A database that cannot be opened is set aside, and load() says so. Errors: Busy if
    // another process has the store; NotWritable; Unsupported.
    static Result<std::unique_ptr<TrayKeeper>> open(const std::filesystem::path& folder, Executor writing,
                                                    std::function<void(const Error&)> failed);

    // See TrayStore::load(). Blocks. Call it once, on any thread, before anything is kept.
    Result<LoadedTray> load();

    // Writes the tray. While one is being written, only the latest of the following ones is kept. Pass the history if
    // it has changed. A tray that could not be written waits for retry() or the next tray.
    void keep(const Tray& tray, const TrayHistory* history);

    // Writes a ticket that documents name; the latest one with an id wins. It is written before any tray that is passed
    // later.
    void keep_ticket(const std::string& id, TicketInUsePtr ticket);

    void retry();
    bool is_all_kept() const; // whether everything passed so far is on disk

    // Deletes an original that no tray will contain.
    void discard(const Original& original);

    // Writes, or returns, the text of a page. If the page was changed since it was read and words_stay() holds, the
    // text is moved along; otherwise there is none.
    void keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text);
    std::optional<TextLayer> text(const Page& page, const std::string& languages);
    // Calls `then` with the list of stored texts, on the writer's thread.
    void tell_read_pages(std::function<void(std::vector<TrayStore::ReadPage>)> then);

    // Deletes the kept documents that the rule expires and calls `then` with the others, on the writer's thread.
    void tell_kept(const KeepingRule& rule, std::chrono::sys_seconds now,
                   std::function<void(std::vector<KeptDocument>)> then);

    const std::filesystem::path& folder() const { return store_.folder(); }

  private:
    struct ToKeep {
        Tray tray;
        std::optional<TrayHistory> history;
    };
    struct Text {
        PagePtr page;
        std::string languages;
        TextLayer layer;
        std::uint64_t number = 0; // increases with each text; distinguishes a newer text of the same page
    };
    StoreLock lock_;
    TrayStore store_;                        // used by load() and then by the writer
    std::optional<TrayStore> reading_store_; // used by text(); open once the other store was loaded
    Executor writing_;
    std::function<void(const Error&)> failed_;
    mutable std::mutex guard_; // protects what follows
    std::optional<ToKeep> tray_;
    TicketsInUse tickets_;                            // not written yet, or failed
    bool is_on_the_way_ = false, is_writing_ = false; // a task was passed to the writer; the writer is working
    using PageAndLanguages = std::pair<std::string, std::string>;
    std::map<PageAndLanguages, Text> texts_; // not written yet, or failed
    std::uint64_t last_text_ = 0;

    TrayKeeper(StoreLock lock, TrayStore store, Executor executor, std::function<void(const Error&)> failed);
    void write_tray();
    Result<void> write_tickets();
    bool is_anything_left() const { return tray_ || !tickets_.empty(); } // the caller holds guard_
    void wait_again(ToKeep unkept);
    void write_text(const PageAndLanguages& which);
};

}
